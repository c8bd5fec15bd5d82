int lane = 4;
int passengers = 80;

int deck     = 2;
int vehicles = 40;
