lane = lanes[2];
