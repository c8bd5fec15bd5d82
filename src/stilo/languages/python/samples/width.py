def board(vehicle, deck, berth, ticket, tide, first):
    return deck.place(vehicle, ticket.lane(), berth.ramp(tide), first, lanes=deck.lanes())
