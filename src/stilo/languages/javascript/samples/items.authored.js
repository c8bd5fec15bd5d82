lanes = [
1, 2,
3, 4, 5];
decks = [1,
2];
