// stilo: set parameters.close=same-line
// stilo: set parameters.inner-line=yes
function announce(theSailingOfTheSummer, theDeckOfTheFerryInIt) {}
function sell(passenger, sailing, from, to, deckOfFerry, laneOf) {}
