var fare = deck switch { Lower => 4, _ => 2 };
var dues = deck switch { Lower => 4, _ => 2, };
