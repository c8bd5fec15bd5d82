# stilo: set items.open=same-line
decks = ["upper", "main", "lower", "bicycles", "trailers", "crew"]
lanes = ["upper",
         "main", "lower", "bicycles", "trailers", "crew"]
