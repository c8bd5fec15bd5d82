Ramp *ramp;
