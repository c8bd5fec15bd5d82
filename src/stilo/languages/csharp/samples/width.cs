int board(Vehicle vehicle, Deck deck, Berth berth, Ticket ticket, Tide tide, bool first) {
    return deck.place(vehicle, ticket.lane(), berth.ramp(tide));
}
