interface TimetableOfTheLine<HarbourOfDeparture, SailingOfTheSummer, VehiclesOnDeck, Tickets> {}
interface Decks<HarbourOfDeparture, SailingOfTheSummer, Deck> {}
interface Lanes<
    Harbour, Deck> {}
interface Plan<Harbour, Deck, Lane> {}
