# stilo: set continuation=8
berth = {"number": 4, "deck": "upper", "harbour": "Skerryvore", "at": 8}
