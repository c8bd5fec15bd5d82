// stilo: set function-body.brace=own-line
class Berth {
    void moor() {
        ramp.lower();
        deck.open();
    }
}
