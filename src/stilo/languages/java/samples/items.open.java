// stilo: set items.close=same-line
String[] decks = {"upper", "main", "lower", "bicycles", "trailers", "crew"};
String[] theHarboursOfTheLine = {"Skerryvore and the islands around", "Holm"};
