enum Deck {
    UPPER(1),
    BICYCLES(2),

    MAIN  (3),
    LORRY (4)
}
