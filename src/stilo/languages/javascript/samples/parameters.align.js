// stilo: set parameters.open=same-line
function sell(passenger, sailing, from, to, deckOfTheFerry, laneOfIt) {}
