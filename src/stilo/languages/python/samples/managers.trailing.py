with (harbour.ramp(slowly) as ramp, ferry.open_deck() as deck, log() as log,): pass
with (harbour.ramp(slowly) as ramp, ferry.open_deck() as deck, book() as log): pass
