berth = moor(harbour.inner_berth(vessel)
             if tide.is_high() else harbour.outer_berth(vessel))
