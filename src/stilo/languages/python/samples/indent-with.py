class Berth:
    def moor(self):
        self.ramp.lower()
