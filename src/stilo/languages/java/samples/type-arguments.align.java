// stilo: set type-arguments.open=cling
TimetableOfTheLine<HarbourOfDeparture, SailingOfTheSummer, VehiclesOnDeck, Tickets> table;
