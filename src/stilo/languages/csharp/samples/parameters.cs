void sell(Passenger passenger, Sailing sailing, Harbour from, Harbour to) {}
void announceTheDepartureOfTheFollowing(Sailing sailing, Harbour harbour, Deck deck) {}
void place(
    Vehicle lorry, int lane) {}
void stow(Vehicle lorry, int lane, Ramp ramp) {}
void moor(
    Rope bow,
    Rope stern) {}
void announceTheArrival(Passenger passenger, Sailing sailing, Harbour from, Harbour to) {}
