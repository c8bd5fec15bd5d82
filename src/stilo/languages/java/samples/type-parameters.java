class Timetable<Departure extends Harbour, Arrival extends Harbour, Load> {}
class TimetableOfTheLine<Departure extends Harbour, Arrival extends Harbour, Load, Crew extends People> {}
class Lanes<
    Deck, Load> {}
class Plan<Harbour, Deck, Lane> {}
