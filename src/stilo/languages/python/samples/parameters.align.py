# stilo: set parameters.open=same-line
def sell(passenger, sailing, harbour_of_departure, harbour_of_arrival): pass
def book(passenger,
         sailing, harbour_of_departure, harbour_of_arrival): pass
