PlannerOfTheSummer plan = (SailingOfTheSummerTimetable sailing, Harbour harbour, Tide tide) -> sell(sailing);
Planner other = (Sailing sailing, Harbour harbour, Vehicle vehicle, Passenger passenger, Tide tide) -> sell(sailing);
