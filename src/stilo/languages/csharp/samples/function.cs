class Ferry {
    int lane;
    int lane() {}
    int berth;
}
