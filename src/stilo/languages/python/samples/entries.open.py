berth = {"number": 4, "deck": "upper", "harbour": "Skerryvore", "at": 8}
the_timetable_of_the_line = {"first": "06:40 from the Outer Holm", "last": 21}
