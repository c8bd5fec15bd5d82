area = side ** 2
