function moor(berth) {}
