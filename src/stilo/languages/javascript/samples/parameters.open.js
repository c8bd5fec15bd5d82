// stilo: set parameters.close=same-line
function announce(theSailingOfTheSummer, theDeckOfTheFerryInIt) {}
function sell(passenger, sailing, from, to, deckOfFerry, laneOf) {}
