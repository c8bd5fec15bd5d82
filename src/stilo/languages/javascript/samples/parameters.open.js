// stilo: set parameters.close=same-line
// stilo: set parameters.inner-line=yes
function announce(theSailingOfTheWholeSummer, theDeckOfTheFerryThatIsInIt) {}
function sell(passenger, sailing, from, to, deckOfFerry, laneOf) {}
