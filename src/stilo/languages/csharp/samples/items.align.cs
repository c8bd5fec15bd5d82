// stilo: set items.open=same-line
string[] decks = {"upper", "main", "lower", "bicycles", "trailers", "crew"};
