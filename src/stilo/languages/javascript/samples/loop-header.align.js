for (let deck = ferry.firstDeck(); deck != null && !deck.isFull(); deck = deck.next()) {}
