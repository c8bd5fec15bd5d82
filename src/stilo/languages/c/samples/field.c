struct berth {
    int lane;
    int depth;
};
