class Ferry {
    @Inject
    Deck deck;
}
