Berth north{4, 2};
