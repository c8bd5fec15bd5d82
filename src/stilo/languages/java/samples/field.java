class Berth {
    int number;
    private String name = "north"; // of the quay
    /** How many lanes. */
    int lanes;
    void moor() {}
}
