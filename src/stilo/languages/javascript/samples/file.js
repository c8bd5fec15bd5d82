moor(berth);



load(deck);
