deck.place(lorry);
