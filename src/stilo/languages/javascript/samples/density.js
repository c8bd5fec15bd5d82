const ticket = office.sell(passenger.who(), sailing.departure(), harbour.island(), deck.lane());
deck.place(vehicle, passenger => { passenger.board(berth.ramp(tide)); ticket.stamp(); });
const isFree = deck.hasRoom(vehicle) && lane.isOpen() && !ramp.isMoving() && tide.isHigh();
