class Berth {
    int lane;
public:
    int depth;
};
