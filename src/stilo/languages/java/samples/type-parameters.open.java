class TimetableOfTheLine<Departure extends Harbour, Arrival extends Harbour, Load, Crew extends People> {}
class TimetableOfTheWholeSkerryLine<Departure extends HarbourOrBerth, Load> {}
