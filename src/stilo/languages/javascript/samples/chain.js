const all = office.sell(passenger).on(sailing).from(harbour).to(island);
const two = offices().sell(passenger).on(sailing).from(harbour).to(isle);
const one = office.sell(passenger).on(sailing);
const few = a.b().c().d();
