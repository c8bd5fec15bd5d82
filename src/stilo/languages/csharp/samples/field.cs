class Berth {
    int number;
    private string name = "north"; // of the quay
    /** How many lanes. */
    int lanes;
    void moor() {}
}
