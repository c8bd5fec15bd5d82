lane = 4
passengers = 80

deck     = 2
vehicles = 40
