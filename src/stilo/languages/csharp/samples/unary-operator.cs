bool shut = !open;
