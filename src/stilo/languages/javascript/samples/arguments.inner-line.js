office.announceTheArrival(passenger.who(), sailing.departure());
