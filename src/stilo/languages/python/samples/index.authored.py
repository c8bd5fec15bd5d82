lanes: Mapping[
    Deck,
    Lane
] = {}
