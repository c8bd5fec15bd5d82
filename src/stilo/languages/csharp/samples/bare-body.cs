void moor() {
    if (tide.isHigh()) ramp.lower();
    if (deck.isFull() && !harbour.isClosed(departure)) ramp.raise(slowly);
}
