ramp.lower(slowly);
