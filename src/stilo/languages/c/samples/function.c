int lane;
int berth(void) { return 2; }
int deck;
