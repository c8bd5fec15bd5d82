class Berth {
    int lane;
    Harbour harbour;
}
