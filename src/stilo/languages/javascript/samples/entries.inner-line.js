berth = { number: 4, deck: "upper", harbour: "Skerryvore", at: 8 };
