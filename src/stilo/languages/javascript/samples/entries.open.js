// stilo: set entries.close=same-line
berth = { number: 4, deck: "upper", harbour: "Skerryvore", at: 8 };
timetable = { first: "06:40 from the Outer Holm to the quay", last: 21 };
