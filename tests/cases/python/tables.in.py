# Rows that stand under the first item.
depths = chart([[8, 7],
                [17, 17],
                [5, 12]])
fields = [("name", str), ("lanes", int),
          ("decks", int)]
ties = {(ship, berth),
    (crew, ship)}
harbours = ["Inner Sound", "Stack Point", "Northness", "Vallay",
            "Old Quay", "Ferry Slip", "Outer Skerry", "Holm"]
signs = {"<": lower, "<=": low_or_even, "==": even,
         ">": higher, ">=": high_or_even, "!=": uneven}
short = ["Inner Sound",
         "Northness"]
few = ["Inner Sound and its harbour", "Stack Point at high water",
       "Northness with both of its berths"]
calls = [depth(1), depth(2), depth(3), depth(4),
         depth(5), depth(6), depth(7), depth(8), depth(9), depth(10), depth(11), depth(12)]
not_aligned = ["Inner Sound", "Stack Point", "Northness", "Vallay",
  "Old Quay", "Ferry Slip", "Outer Skerry", "Holm"]
within = ["Inner Sound", "Stack Point", ("Northness",
          "Vallay"), "Old Quay", "Ferry Slip", "Outer Skerry", "Holm", "Quay"]
remarks = ["Inner Sound", "Stack Point", "Northness", "Vallay",  # by day
           "Old Quay", "Ferry Slip", "Outer Skerry", "Holm"]
one_line = (sailing.harbour, sailing.berth, sailing.ramp,
            sailing.deck, sailing.lane, sailing.crew)
two_lines = (sailing.harbour, sailing.berth, sailing.ramp, sailing.ticket,
             sailing.deck, sailing.lane, sailing.crew, sailing.tide)
five = ["Inner Sound and its harbour", "Stack Point", "Northness",
        "Vallay at high water", "Outer Skerry"]
fitting_calls = [depth(1), depth(2), depth(3), depth(4), depth(5),
                 depth(6), depth(7), depth(8), depth(9), depth(10)]
signs_first = ["Inner Sound", "Stack Point", "Northness", "Vallay"
               , "Old Quay", "Ferry Slip", "Outer Skerry", "Holm", "Quay"]
