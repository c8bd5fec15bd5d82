ramp.lower();
