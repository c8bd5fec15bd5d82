Ticket all = office.Sell(passenger).On(sailing).From(harbour).To(island);
Ticket two = Offices().Sell(passenger).On(sailing).From(harbour).To(isle);
Ticket one = office.Sell(passenger).On(sailing);
