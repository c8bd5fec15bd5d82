interface Berth {
    public int lane();
    abstract Tide tide();
}
