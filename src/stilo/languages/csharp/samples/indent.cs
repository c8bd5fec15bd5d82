class Berth {
    void moor() {
        if (tide.isHigh()) {
            ramp.lower();
        }
    }
}
