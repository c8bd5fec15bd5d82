moor(berth);
