if (tide.isHigh()) {
    moor();
} else {
    wait();
}
