template <typename Harbour, typename Vehicle, typename Tide, typename Deck>
void sail(Harbour a);
template <typename A, typename B, typename C>
void sail(A a);
template <
    typename A, typename B>
void moor(A a);
