for (Deck deck = ferry.firstDeck(); deck != null && !deck.isFull(); deck = deck.next()) {}
for (Deck deck = ferry.firstDeck(); !deck.isFull(); deck = deck.nextDeckAbove()) {}
for (int deck = 0; deck < 3; deck++) {}
