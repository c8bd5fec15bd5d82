PlannerOfTheLine planner = (Sailing sailing, Harbour harbour) -> sell();
