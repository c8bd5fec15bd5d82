below = -depth
