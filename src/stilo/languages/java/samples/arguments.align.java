// stilo: set arguments.open=same-line
office.announce(passenger.who(), sailing.departure(), harbour.island());
office.announce(passenger.who(),
                sailing.departure(), harbour.island());
