// stilo: set arguments.open=cling
office.announce(passenger.who(), sailing.departure(), harbour.island());
