// stilo: set type-parameters.open=cling
class TimetableOfTheLine<Departure extends Harbour, Arrival extends Harbour, Load, Crew extends People> {}
