berth = moor(harbour.inner_berth(vessel) if tide.is_high() else harbour.outer_berth(vessel))
lane = moor(1 if wide else 2)
