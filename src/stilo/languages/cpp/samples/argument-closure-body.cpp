auto lane = board([](int deck) { return deck; });
auto berth = board([](int deck) {
    return deck;
});
