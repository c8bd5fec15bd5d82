def lower(ramp): pass
