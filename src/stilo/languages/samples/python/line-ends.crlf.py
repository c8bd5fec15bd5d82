ramp.lower()
