function announceTheArrival(passenger, sailing, harbour, island) {}
