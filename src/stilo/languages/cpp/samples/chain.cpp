auto tickets = office.sell(passenger).on(sailing).from(harbour).to(island);
auto bookings = offices().sell(passenger).on(sailing).from(harbour).to(isle);
auto one = office.sell(passenger).on(sailing);
