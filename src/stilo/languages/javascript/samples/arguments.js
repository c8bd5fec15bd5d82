const ticket = office.sell(passenger, sailing.departure(), harbour.island());
office.announceTheDepartureOfTheFollowing(sailing.departure(), harbour.island(), deck);
office.sell(passenger.who(), sailing.departure(), harbour.island(), deck, lane.number());
deck.place(
    lorry, lane);
deck.place(lorry, lane, ramp);
deck.moor(
    bow,
    stern);
set(100, 200, 300, 400, 500, 600, 700, 800, 900, 1000, 1100, 1200);
