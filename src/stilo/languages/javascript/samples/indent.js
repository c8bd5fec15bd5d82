if (tide > 2) { moor(berth); }
