static const std::variant<Harbour, Passenger, Vehicle, Tide> tables;
