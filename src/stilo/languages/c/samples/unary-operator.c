int shut = !open;
