# stilo: set entries.open=same-line
berth = {"number": 4, "deck": "upper", "harbour": "Skerryvore", "at": 8}
quay = {"number": 4,
        "deck": "upper", "harbour": "Skerryvore", "at": 8}
