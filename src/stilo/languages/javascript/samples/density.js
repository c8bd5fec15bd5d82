const ticket = office.sell(passenger.who(), sailing.departure(), harbour.island(), deck.lane());
deck.place(vehicle, passenger => passenger.board(deck.lane(), berth.ramp(tide), ticket));
const isFree = deck.hasRoom(vehicle) && lane.isOpen() && !ramp.isMoving() && tide.isHigh();
