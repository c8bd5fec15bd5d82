deck.place(lorry, lane)
