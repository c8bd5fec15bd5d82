char *notice = "The ferry to the outer skerry leaves " "the north quay " "at noon.";
char *quay = "north " "quay";
