enum Deck {
    UPPER(1),
    BICYCLES(2)
}
