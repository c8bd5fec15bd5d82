# stilo: set parameters.open=cling
def sell(passenger, sailing, harbour_of_departure, harbour_of_arrival): pass
