class TimetableOfTheLine<Departure extends Harbour, Arrival, Load> {}
