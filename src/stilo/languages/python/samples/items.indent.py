# stilo: set continuation=8
decks = ["upper", "main", "lower", "bicycles", "trailers", "crew"]
