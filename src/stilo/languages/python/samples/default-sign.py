def lower(speed=2): pass
