let table: TimetableOfTheLine<HarbourOfDeparture, SailingOfTheSummer, VehiclesOnDeck, Tickets>;
let whole: TimetableOfTheWholeSkerryLine<HarbourOfDepartureOrOfArrival, Sailing>;
