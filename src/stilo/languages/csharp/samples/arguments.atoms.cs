void Moor() { Board(passengers, vehicles, lanes, decks, berths, harbours, tides, 4); }
