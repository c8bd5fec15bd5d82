# stilo: set arguments.open=cling
office.announce(passenger.name, sailing.departure(), harbour.island())
