ramp.lower(); deck.open()
board(queue)
