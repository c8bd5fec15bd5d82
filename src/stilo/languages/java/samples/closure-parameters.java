Planner planner = (Sailing sailing, Harbour harbour, Vehicle vehicle) -> sell(sailing);
Planner other = (Sailing sailing, Harbour harbour, Vehicle vehicle, Passenger passenger, Tide tide) -> sell(sailing);
Planner third = (
    sailing, harbour) -> sell(sailing);
Planner fourth = (sailing, harbour, deck) -> sell(sailing);
