let table: TimetableOfTheLine<HarbourOfDeparture, Sailing, Tickets>;
