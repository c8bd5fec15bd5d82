lane = 4



deck = 2
