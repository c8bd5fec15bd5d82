int lane = 4; // the left one
int passengers = 80; // without crew
