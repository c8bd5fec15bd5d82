interface Berth {
    public int lane();
    abstract Tide tide();

    public   int deck();
    abstract Tide low();
}
