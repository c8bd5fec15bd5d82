a = 1;
berth = 2;

b    = 1;
lane = 2;
