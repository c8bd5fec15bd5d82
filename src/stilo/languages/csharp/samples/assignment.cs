TimetableOfTheLine timetable = office.timetableOfTheSummer();
int lane = deck.lane();
TimetableOfTheLine timetableOfTheSummer = TimetableOfTheLine.SUMMER;
