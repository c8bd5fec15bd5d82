enum Deck {
    UPPER,


    MAIN,
    LOWER,
    BICYCLES
}
enum Tide { HIGH, LOW, }
enum Harbour { SKERRYVORE, INNER_HOLM, OUTER_HOLM, GANNET_SOUND, THE_STACK }
