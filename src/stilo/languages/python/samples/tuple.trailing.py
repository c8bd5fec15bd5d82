lanes = (1, 2, 3,)
decks = ("upper", "main", "lower", "bicycles", "trailers", "crew")
decks = (
"upper",
"main",
)
lanes = (
1, 2,
3, 4,
)
