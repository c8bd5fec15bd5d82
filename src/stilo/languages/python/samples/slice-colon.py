some = lanes[1:3]
