std::variant<std::pair<int, Deck>, std::pair<int, Berth>, Timetable, Passenger, Tide> tables;
std::tuple<int, Deck, Tide> three;
std::pair<int, Deck> pair;
std::pair<
    int, Deck> other;
