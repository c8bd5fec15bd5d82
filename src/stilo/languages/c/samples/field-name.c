struct berth {
    int lane;
    Harbour harbour;

    int     depth;
    Harbour home;
};
