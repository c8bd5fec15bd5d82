auto lane = [](int deck) { return deck; };
auto berth = [](int deck) {
    return deck;
};
