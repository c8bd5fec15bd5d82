lane = 4  # the left one
passengers = 80  # without crew

deck = 2       # the upper one
vehicles = 40  # with trailers
