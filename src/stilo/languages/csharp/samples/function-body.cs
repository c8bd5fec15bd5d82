class Berth {
    int lane() {
        return lane;
    }
    Tide tide() { return tide; }
}
