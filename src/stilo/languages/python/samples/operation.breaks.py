is_full = deck.passengers + lane.passengers > berth.capacity and not sailing.is_cancelled
