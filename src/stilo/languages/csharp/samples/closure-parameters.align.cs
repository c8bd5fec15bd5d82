// stilo: set closure-parameters.open=same-line
Sail sail = (Harbour harbour, Passenger passenger, Timetable timetable) => 1;
