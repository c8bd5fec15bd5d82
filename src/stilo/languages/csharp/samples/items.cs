string[] decks = {"upper", "main", "lower", "bicycles", "trailers", "crew"};
int[] lanes = {
    1, 2};
int[] ramps = {1, 2, 3,};
string[] harbours = {"Skerryvore", "Inner Holm", "Outer Holm", "Gannet Sound",};
Fare[] fares = {fare(1), fare(2), fare(3), fare(4), fare(5), fare(6), fare(7)};
