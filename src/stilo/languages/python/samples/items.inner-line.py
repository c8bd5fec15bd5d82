decks = ["upper", "main", "lower", "bicycles", "cars", "crew"]
