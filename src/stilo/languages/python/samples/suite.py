def moor(self):
    self.ramp.lower()



    self.deck.open()
