lane = 4
def moor(): pass
deck = 2
