Ticket ticket = office.sell(passenger, sailing.departure(), harbour.island());
