moor(berth,
  line); // berth check
