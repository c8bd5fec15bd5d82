Ferry::Ferry(Harbour home, int lanes) : home_(home), lanes_(lanes), is_open_(false), number_of_decks_(4) {
    moor();
}
Ferry::Ferry(int lanes) : lanes_(lanes), berth_(0) {
    moor();
}
