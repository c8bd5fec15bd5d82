// stilo: set closure-parameters.open=same-line
Planner other = (Sailing sailing, Harbour harbour, Vehicle vehicle, Passenger passenger, Tide tide) -> sell(sailing);
