def sell_all(passenger, sailing, harbour, ticket_office, tide): pass
