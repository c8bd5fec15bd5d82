lanes = [lane.number for lane in deck.lanes() if lane.is_free() and lane.is_wide()]
free = [lane for lane in lanes if lane]
both = [lane.number for deck in ferry.decks() for lane in deck.lanes()]
