std::map<std::pair<Harbour, Passenger>, std::vector<Timetable>> tables;
std::tuple<std::string_of_the_timetable_of_the_summer_of_the_line, Harbour> other;
