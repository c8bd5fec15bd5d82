// stilo: set parameters.open=cling
void sell(Passenger passenger, Sailing sailing, Harbour from, Harbour to) {}
