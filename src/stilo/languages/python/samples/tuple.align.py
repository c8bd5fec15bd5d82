decks = ("upper", "main", "lower",
         "bicycles", "trailers", "crew", "lockers")
