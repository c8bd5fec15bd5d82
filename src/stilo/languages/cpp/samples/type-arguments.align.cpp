// stilo: set type-arguments.open=same-line
std::map<std::pair<Harbour, Passenger>, std::vector<Timetable>> tables;
