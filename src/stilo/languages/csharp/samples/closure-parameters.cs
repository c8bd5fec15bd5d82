Sail sail = (Harbour harbour, Passenger passenger, Timetable timetable) => 1;
Sail moor = (int deck, int lane, int berth) => 1;
Sail leave = (
    Harbour harbour, int lane) => 1;
