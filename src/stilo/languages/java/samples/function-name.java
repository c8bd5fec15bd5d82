interface Berth {
    int lane();
    Harbour harbour();
}
