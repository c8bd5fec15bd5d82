interface Mooring {

    void moor();

}
