# stilo: set items.open=cling
decks = ["upper", "main", "lower", "bicycles", "trailers", "crew"]
