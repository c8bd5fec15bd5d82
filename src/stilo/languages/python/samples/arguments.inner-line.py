office.announce_the_arrival(passenger, sailing, harbour, deck, 4)
