void sell(Passenger passenger, Sailing sailing, Harbour from, Harbour to) {}
void announceTheDepartureOfTheFollowing(SailingOfTheSummer sailing, Deck deck) {}
