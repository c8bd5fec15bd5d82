total = 2*fare + tax;
area = length*width;
lane = lanes[i+1];
