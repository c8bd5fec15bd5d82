// stilo: set type-parameters.open=same-line
class Ferry<TFirstHarbour, TSecondHarbour, TTide, TVehicle, TPassenger> {}
