interface Mooring {
    void moor();
}
interface Empty { Deck deck(); }
