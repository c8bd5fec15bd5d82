static BerthType Berth_Type = {
    BERTH_HEAD_INIT(&Quay_Type,
                          0) "quay.Berth", // name
    sizeof(Berth), // size
    0,             // items
};
