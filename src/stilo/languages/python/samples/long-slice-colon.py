some = lanes[first + 1 : last - 1]
