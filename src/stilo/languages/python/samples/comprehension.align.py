lanes = [lane.number for lane in deck.lanes()
         if lane.is_free() and lane.is_wide()]
