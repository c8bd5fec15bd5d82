for (Deck deck = ferry.firstDeck(); deck != null && !deck.isFull(); deck = deck.next()) {}
