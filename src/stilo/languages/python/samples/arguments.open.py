office.sell(passenger.name, sailing.departure(), harbour.island(), deck, lane.number())
office.announce(passenger.name, sailing.departure(), harbour.island())
office.announce_the_departure_of_the_following(sailing.departures(), deck)
