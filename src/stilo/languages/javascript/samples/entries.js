fares = { adult: 12, child: 6, dog: 1 };
deck = {
  car: 1, bus: 2 };
sailing = { from: northQuay, to: southQuay, at: departure, on: deckOf(vehicle) };
