# stilo: set arguments.open=same-line
office.announce(passenger.name, sailing.departure(), harbour.island())
office.announce(passenger.name,
                sailing.departure(), harbour.island())
