class Ferry {
    int lane;
    class Deck {}
    int berth;
}
