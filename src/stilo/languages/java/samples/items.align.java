// stilo: set items.open=cling
String[] decks = {"upper", "main", "lower", "bicycles", "trailers", "crew"};
