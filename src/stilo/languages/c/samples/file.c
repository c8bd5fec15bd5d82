int lane;


int berth;
