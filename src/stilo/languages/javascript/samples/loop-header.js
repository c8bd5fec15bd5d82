for (let deck = ferry.firstDeck(); deck != null && !deck.isFull(); deck = deck.next()) {}
for (let deck = ferry.firstDeck(); !deck.isFull(); deck = deck.nextDeckAbove()) {}
for (let deck = 0; deck < 3; deck++) {}
