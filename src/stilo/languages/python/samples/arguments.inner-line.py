office.announce_the_arrival(passenger.name, sailing, deck, 4)
office.announce(passenger.name, sailing.departure, berth.number, deck.lanes[0])
