// stilo: set items.close=cling
String[] decks = {"upper", "main", "lower", "bicycles", "trailers", "crew"};
String[] theHarboursOfTheLine = {"Skerryvore and the islands around", "Holm"};
