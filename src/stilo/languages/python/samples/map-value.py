berth = {
    "number": 4,
    "harbour": 2,
    "the deck on which the lorries of the line stand": "upper",

    "deck":     1,
    "vehicles": 3,
}
