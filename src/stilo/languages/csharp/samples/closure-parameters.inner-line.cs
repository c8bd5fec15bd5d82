Sail theSailingOfTheDay = (Harbour harbour, Deck deck, Tide tide) => 1;
