char *notice = "This berth "
    "is taken.";
char *quay = "north " "quay";
