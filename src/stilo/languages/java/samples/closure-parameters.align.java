// stilo: set closure-parameters.open=cling
Planner other = (Sailing sailing, Harbour harbour, Vehicle vehicle, Passenger passenger, Tide tide) -> sell(sailing);
