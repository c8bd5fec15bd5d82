moor(berth); // alongside
