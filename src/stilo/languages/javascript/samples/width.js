function board(vehicle, deck, berth, ticket, tide, first, whoever) {
  return deck.place(vehicle, ticket.lane(), berth.ramp(tide), whoever, again, andAgain);
}
