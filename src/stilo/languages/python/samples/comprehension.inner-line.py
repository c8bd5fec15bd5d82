the_lanes_that_are_free = [lane.number for lane in deck.lanes()]
