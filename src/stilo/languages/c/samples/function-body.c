int lane(void) {
    return 4;
}
int berth(void) { return 2; }
