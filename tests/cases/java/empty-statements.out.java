class Berth {
    void moor() {
        lower();;
        if (tide) {};
    };
    int lane;;
    // then
    ;
};

interface Deck {
    ;
};
