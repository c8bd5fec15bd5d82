area = side**2
areas = area + side**2
