// stilo: set type-parameters.open=same-line
class TimetableOfTheLine<Departure extends Harbour, Arrival extends Harbour, Load, Crew extends People> {}
