ramp.lower()
