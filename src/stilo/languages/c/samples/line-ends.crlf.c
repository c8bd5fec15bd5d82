ramp.lower();
