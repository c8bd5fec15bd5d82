TimetableOfTheLine<HarbourOfDeparture, SailingOfTheSummer, VehiclesOnDeck, Tickets> table;
TimetableOfTheWholeSkerryLine<HarbourOfDepartureOrOfArrivalThere, Sailing> table;
