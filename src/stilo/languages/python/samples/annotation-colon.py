lane: int = 4
