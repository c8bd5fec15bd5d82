// stilo: set arguments.inner-line=no
Ticket ticket = office.sell(passenger, sailing.departure(), harbour.island());
deck.place(vehicle, passenger -> passenger.board(deck, berth.ramp(tide), ticket));
manifest.add(new Vehicle(plate, length, weight), lanes.first(length, weight));
