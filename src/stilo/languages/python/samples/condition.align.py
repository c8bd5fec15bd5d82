is_open = (tide.is_high() and not deck.is_full()
           and harbour.is_open())
moor(tide.is_high() and not deck.is_full()
     and harbour.is_open(), ramp)
