int lane = (int) depth;
