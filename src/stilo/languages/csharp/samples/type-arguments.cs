Map<HarbourOfDeparture, Map<SailingOfTheSummer, VehiclesOnDeck>> lanes;
TimetableOfTheLine<HarbourOfDeparture, SailingOfTheSummer, VehiclesOnDeck, Tickets> table;
Map<
    Harbour, Deck> decks;
Plan<Harbour, Deck, Lane> plan;
