// stilo: set closure-parameters.close=same-line
// stilo: set closure-parameters.inner-line=yes
const announce = (theSailingOfTheWholeSummer, theDeckOfTheFerryThatIsInIt) => 1;
const sell = (passenger, sailing, from, to, deckOfFerry, laneOf) => 1;
