const timetable = office.timetableOfTheSummerOfTheWholeFerryLine;
const lane = deck.lane();
