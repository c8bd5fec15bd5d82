is_open = tide.is_high() and not deck.is_full() and harbour.is_open()
is_late = (a and b and c)
if moor(tide.is_high() and not deck.is_full() and harbour.is_open(), ramp): pass
moor(a and b and c)
