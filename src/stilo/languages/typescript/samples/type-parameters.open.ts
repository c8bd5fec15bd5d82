interface TimetableOfTheLine<HarbourOfDeparture, SailingOfTheSummer, VehiclesOnDeck, Tickets> {}
interface TimetableOfTheWholeSkerryLine<HarbourOfDepartureOrOfArrival, Sailing> {}
