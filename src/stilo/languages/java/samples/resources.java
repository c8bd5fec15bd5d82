try (Ramp ramp = harbour.ramp(); Deck deck = ferry.openDeck(); Log log = log()) {}
try (RampOfTheOuterHarbour ramp = harbour.outerRamp(vessel); Deck deck = ferry.openDeck()) {}
try (Ramp ramp = harbour.ramp(); Deck deck = deck()) {}
