void moor() {
    if (tide.isHigh()) {
        ramp.lower();
    }
    while (deck.isFull()) { sail(); }
}
