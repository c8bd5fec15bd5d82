def lower(speed: int = 2): pass
