interface TimetableOfTheLine<HarbourOfDeparture, SailingOfTheSummer, VehiclesOnDeck,> {}
interface TicketsOfTheLine<HarbourOfDeparture, SailingOfTheSummer, VehiclesOnDeck> {}
interface Lanes<Harbour, Deck,> {}
