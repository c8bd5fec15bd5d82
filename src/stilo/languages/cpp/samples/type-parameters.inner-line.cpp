template <typename Harbour, typename Vehicle, int N, int Deck>
void sail(Harbour a);
