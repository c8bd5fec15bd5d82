# stilo: set arguments.inner-line=no
ticket = office.sell(passenger, sailing, harbour, 3, 4, 5, 61)
office.sell(passenger.ticket(sailing, harbour, 3, 4, 5), 61, 7, 8)
