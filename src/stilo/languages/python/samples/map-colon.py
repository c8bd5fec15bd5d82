berth = {"number": 4}
