// stilo: set type-arguments.open=same-line
TimetableOfTheLine<HarbourOfDeparture, SailingOfTheSummer, VehiclesOnDeck, Tickets> table;
