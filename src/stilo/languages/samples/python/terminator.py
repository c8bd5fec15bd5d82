ramp.lower(); deck.open()
