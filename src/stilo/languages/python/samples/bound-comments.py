fare = tariff(deck, lane,
    height)  # berth check
quay = dock(1,
    2)
