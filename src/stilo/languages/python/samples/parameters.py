def sell(passenger, sailing, harbour_of_departure, harbour_of_arrival): pass
def announce_the_departure_of_the_following(sailing, harbour, deck, tide): pass
def place(
    lorry, lane): pass
def stow(lorry, lane, ramp): pass
def moor(
    bow,
    stern): pass
