int lane = 4;
int passengers = 80;
