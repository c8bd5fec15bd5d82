deck.place(lorry, lane);
