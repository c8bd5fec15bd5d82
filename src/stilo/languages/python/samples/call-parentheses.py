ramp.lower(slowly)
