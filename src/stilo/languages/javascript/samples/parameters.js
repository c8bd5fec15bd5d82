function sell(passenger, sailing, from, to, deckOfTheFerry, laneOfIt) {}
function announceTheDepartureOfTheFollowing(sailing, harbour, deck, tide) {}
function place(
    lorry, lane) {}
function stow(lorry, lane, ramp) {}
function moor(
    bow,
    stern) {}
function announceTheArrival(passenger, sailingOfTheDay, fromTheHarbour, toTheIsland) {}
function sellTheWhole(passenger, sailing, fromTheHarbour, toTheIsland, deckOfTheFerry) {}
