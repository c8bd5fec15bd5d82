fares = { adult: 12 };
