hold = 0XFFab + 1E3 + 2J
