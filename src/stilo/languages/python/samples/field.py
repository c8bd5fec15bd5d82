class Berth:
    number = 4
    name: str = "north"  # of the quay
    # How many lanes.
    lanes: int

    def moor(self):
        pass
