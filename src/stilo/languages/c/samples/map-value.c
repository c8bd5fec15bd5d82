struct berth north = {
    .lane = 4,
    .is_open = 1,
    .depth    = 7,
    .is_tidal = 1
};
