ticket = office.sell(passenger.name, sailing.departure(), harbour.island(), deck.lane())
free = deck.has_room(vehicle) and lane.is_open() and not ramp.is_moving() and tide.is_high()
office.announce_the_arrival(passenger.name, sailing.deck, 4000)
