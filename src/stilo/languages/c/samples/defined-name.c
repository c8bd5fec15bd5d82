int lane(void) {
    return 4;
}
