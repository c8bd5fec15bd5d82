int lane = 4; // the left one
int passengers = 80; // without crew

int deck = 2;      // the upper one
int vehicles = 40; // with trailers
