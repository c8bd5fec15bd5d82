template <typename Deck>
int lane(Deck deck);
