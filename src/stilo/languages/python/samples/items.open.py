decks = ["upper", "main", "lower", "bicycles", "trailers", "crew"]
the_harbours_of_the_line = ["Skerryvore and the isles around it", "Holm"]
