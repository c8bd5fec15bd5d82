void lower(Ramp ramp) {}
