ramp.lower(speed=2)
