interface Berth {
    int lane();
    Harbour harbour();

    int     deck();
    Harbour home();
}
