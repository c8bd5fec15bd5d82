lane = 4;
passengers = 80;
