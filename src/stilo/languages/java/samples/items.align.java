// stilo: set items.open=same-line
String[] decks = {"upper", "main", "lower", "bicycles", "trailers", "crew"};
