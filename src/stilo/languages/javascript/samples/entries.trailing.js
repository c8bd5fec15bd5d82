fares = { adult: 1, child: 2, };
berth = { number: 4, deck: "upper", harbour: "Skerryvore", at: 80, };
ramp = { number: 4, deck: "upper", harbour: "Skerryvore", is: 80 };
lane = {
a: 1, b: 2,
c: 3 };
