office.announceTheDepartureOf(sailing.departure().atHarbour(island));
office.sell(passenger.who(), sailing.departure(), harbour.island(), deck);
office.announceTheDepartureOfTheFollowing(sailingOfTheSummer.departure(), deck);
