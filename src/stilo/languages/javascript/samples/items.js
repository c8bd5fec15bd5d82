decks = ["upper", "main", "lower", "bicycles", "trailers", "crew", "dogs"];
lanes = [
    1, 2];
ramps = [1, 2, 3];
fares = [fare(1), fare(2), fare(3), fare(4), fare(5), fare(6), fare(7), fare(8)];
depths = [100, 200, 300, 400, 500, 600, 700, 800, 900, 1000, 1100, 1200, 1300];
