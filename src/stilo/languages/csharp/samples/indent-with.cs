class Berth {
    void moor() {
        ramp.lower();
    }
}
