def moor():
    lane = 4
    def lower(): pass
    deck = 2
