int fare = tariff(deck, lane,
    height); // berth check
int quay = dock(1,
    2);
