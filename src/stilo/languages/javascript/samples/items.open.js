// stilo: set items.close=same-line
isles = [deckOf("Skerryvore and the isles"), deckOf("Holm Gannet")];
theHarboursOfTheWholeFerryLine.ofSkerry = [deckOf("Skerryvore and isles"), 1];
