Ticket ticket = office.sell(passenger, sailing.departure(), harbour.island());
office.announceTheDepartureOfTheFollowing(sailing.departure(), harbour.island(), deck);
office.sell(passenger.who(), sailing.departure(), harbour.island(), deck, lane.number());
deck.place(
    lorry, lane);
deck.place(lorry, lane, ramp);
deck.moor(
    bow,
    stern);
