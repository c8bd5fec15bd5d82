int full = passengers_on(deck) + passengers_on(lane) > capacity_of(berth) && !is_cancelled;
