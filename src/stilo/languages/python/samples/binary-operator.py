free = lanes - taken * 2
