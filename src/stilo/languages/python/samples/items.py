decks = ["upper", "main", "lower", "bicycles", "trailers", "crew"]
lanes = [
    1, 2]
ramps = [1, 2, 3,]
harbours = ["Skerryvore", "Inner Holm", "Outer Holm", "Gannet Sound",]
