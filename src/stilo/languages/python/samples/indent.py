class Berth:
    def moor(self):
        if self.tide.is_high():
            self.ramp.lower()
