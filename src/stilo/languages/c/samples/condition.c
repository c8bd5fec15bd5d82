int open = tide_is_high(quay) && !deck_is_full(deck) && harbour_open && sea_is_calm;
int late = a && b && c;
void look(void) { if (tide_is_high(quay) && !deck_is_full(deck) && harbour_open && sea_is_calm) {} }
