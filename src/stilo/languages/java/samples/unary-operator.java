boolean shut = !open;
