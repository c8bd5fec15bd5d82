interface TimetableOfTheLine<HarbourOfDeparture, Sailing, Deck> {}
