class Berth:
    lane = 4
    def moor(self): pass
    deck = 2
