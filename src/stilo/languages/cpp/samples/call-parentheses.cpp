int lane = lane_of(deck);
