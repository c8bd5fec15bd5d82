interface Berth {
    void lower(Ramp ramp);
    void moor(Vessel vessel);
}
