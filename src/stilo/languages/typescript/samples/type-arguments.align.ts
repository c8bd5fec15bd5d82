// stilo: set type-arguments.open=same-line
let table: TimetableOfTheLine<HarbourOfDeparture, SailingOfTheSummer, VehiclesOnDeck>;
