class Ferry {
    @Inject
    Deck deck;
    @Id long number;
}
