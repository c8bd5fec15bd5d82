office.announce(passenger.who(), sailing.departure(), deck);
office.announceTheArrival(passenger, sailing, harbour, deck);
