class Berth {
    Berth() : Quay(0) {};
    void moor() { lower(); };
    int lane;;
};
namespace skerry {
void sail() {};
};
struct Deck {};
;

void load() {
    board();; // twice
    if (tide) {};
    while (ramp.moves()) ;
    // then
    ;
}
