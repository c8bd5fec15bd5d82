interface Berth {
    void lower(Ramp ramp);
    void moor(Vessel vessel);

    void raise (Ramp ramp);
    void leave (Tide tide);
    void hoot  (Tide tide);
}
