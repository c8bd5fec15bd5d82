office.announceTheArrival(passenger.who(), sailing.departure());
office.announce(passenger.who(), sailing.departure(), berth.number(), deck.lanes());
