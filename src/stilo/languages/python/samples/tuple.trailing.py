lanes = (1, 2, 3,)
decks = ("upper", "main", "lower", "bicycles", "trailers", "the crew")
decks = (
"upper",
"main",
)
lanes = (
1, 2,
3, 4,
)
ramps = ("upper", "main", "lower", "bicycles", "trailers", "the crews")
