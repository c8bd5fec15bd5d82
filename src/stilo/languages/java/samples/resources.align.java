// stilo: set resources.open=cling
try (Ramp ramp = harbour.ramp(); Deck deck = ferry.openDeck(); Log log = log()) {}
