deck.place(lorry)
