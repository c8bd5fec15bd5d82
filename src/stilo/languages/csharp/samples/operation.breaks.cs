bool full = deck.passengers() + lane.passengers() > berth.capacity() && !sailing.isCancelled();
