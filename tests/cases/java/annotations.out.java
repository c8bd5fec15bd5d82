class Ferry {
    @Id private long number;
    @Inject
    private Deck deck;
    @Column("lanes") @Positive int lanes;
    private final @Nullable String name = null;
    @Inject // once
    Berth berth;
    private transient @Nullable @Weak Map<String, Berth> berths;

    static @Nullable Object[] all() {
        @SuppressWarnings("unchecked") List<Deck> decks = load();
        @SuppressWarnings("unchecked")
        List<Deck> others = load();
        return null;
    }

    @Override
    public final @Nullable String toString() {
        return name;
    }
}
