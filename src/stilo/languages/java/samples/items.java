String[] decks = {"upper", "main", "lower", "bicycles", "trailers", "crew"};
int[] lanes = {
    1, 2};
int[] ramps = {1, 2, 3,};
String[] harbours = {"Skerryvore", "Inner Holm", "Outer Holm", "Gannet Sound",};
