function board(vehicle, deck, berth, ticket) {
  return deck.place(vehicle, berth.ramp(tide), whoever, andOne);
}
announce(theSailing, theBerthOfIt, theDeckOfTheFerry, theLaneOnTheDeck, allWhoWait);
