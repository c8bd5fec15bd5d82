class Berth {
    int lane;



    Tide tide;
    void moor()
    {
        ramp.lower();


        deck.open();
    }
}
