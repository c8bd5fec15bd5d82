lane = 4  # the left one
passengers = 80  # without crew
