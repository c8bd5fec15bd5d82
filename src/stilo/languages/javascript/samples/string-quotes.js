berth = 'north';
lane = "inner";
