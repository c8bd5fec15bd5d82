Sail sail = (Harbour harbour, Passenger passenger, Timetable timetable) => 1;
Sail other = (TheTimetableOfTheSummerOfTheWholeFerryCompanyOfSkerry a, int b) => 1;
