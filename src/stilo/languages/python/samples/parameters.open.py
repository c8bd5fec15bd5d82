def sell(passenger, sailing, harbour_of_departure, harbour_of_arrival): pass
def announce_the_departure_of_the_following(sailing_of_summer, tide): pass
