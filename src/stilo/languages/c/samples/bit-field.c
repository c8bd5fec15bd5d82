struct signals {
    unsigned open : 1;
    unsigned is_tidal : 1;

    unsigned lit       : 1;
    unsigned has_buoys : 1;
};
