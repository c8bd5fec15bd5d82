moor(berth, line);
