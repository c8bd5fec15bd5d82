fares = {
  adult: 12,
  senior: 8
};
decks = {
  car:   1,
  lorry: 2
};
