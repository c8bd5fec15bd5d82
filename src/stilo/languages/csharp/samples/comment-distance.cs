int lane = 4; // the left one
