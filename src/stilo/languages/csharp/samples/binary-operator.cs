int free = lanes - taken * 2;
