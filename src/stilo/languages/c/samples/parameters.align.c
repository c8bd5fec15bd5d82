// stilo: set parameters.open=same-line
void sell(Passenger passenger, Sailing sailing, Harbour from, Harbour to) {}
void book(Passenger passenger,
          Sailing sailing, Harbour from, Harbour to) {}
