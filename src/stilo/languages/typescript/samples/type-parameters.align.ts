// stilo: set type-parameters.open=same-line
interface TimetableOfTheLine<HarbourOfDeparture, SailingOfTheSummer, Vehicles> {}
