// stilo: set resources.open=same-line
try (Ramp ramp = harbour.ramp(); Deck deck = ferry.openDeck(); Log log = log()) {}
