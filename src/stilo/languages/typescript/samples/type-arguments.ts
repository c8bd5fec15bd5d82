let lanes: Map<HarbourOfDeparture, Map<SailingOfTheSummer, VehiclesOnDeck>>;
let table: TimetableOfTheLine<HarbourOfDeparture, SailingOfTheSummer, VehiclesOnDeck, Tickets>;
let decks: Map<
    Harbour, Deck>;
let plan: Plan<Harbour, Deck, Lane>;
