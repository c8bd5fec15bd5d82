TimetableOfTheLine<HarbourOfDeparture, Sailing, Tickets, Deck> table;
