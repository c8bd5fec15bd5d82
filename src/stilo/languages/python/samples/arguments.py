ticket = office.sell(passenger, sailing.departure(), harbour.island())
office.announce_the_departure_of_the_following(sailing.departure(), harbour.island(), deck)
deck.place(
    lorry, lane)
deck.place(lorry, lane, ramp)
deck.moor(
    bow,
    stern)
office.sell(passenger.name, sailing.departure(), harbour.island(), deck, lane.number())
