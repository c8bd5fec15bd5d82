office.announce_the_arrival(passenger.name, sailing, deck, 4)
