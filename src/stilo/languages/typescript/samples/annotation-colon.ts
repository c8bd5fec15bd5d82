let berth: Berth;
