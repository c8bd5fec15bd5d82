struct berth {
    int lane;
};
struct tide { int height; };
