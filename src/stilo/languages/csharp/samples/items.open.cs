// stilo: set items.close=same-line
string[] decks = {"upper", "main", "lower", "bicycles", "trailers", "crew"};
string[] theHarboursOfTheLine = {"Skerryvore and the islands around", "Holm"};
