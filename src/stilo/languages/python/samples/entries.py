berth = {"number": 4, "deck": "upper", "harbour": "Skerryvore", "at": "08:40"}
lane = {
    "deck": 1, "number": 2}
ramp = {"deck": 1, "number": 2, "up": 3,}
tides = {"spring": "high", "neap": "low", "summer": "high",


"winter": "low",}
