// stilo: set entries.open=same-line
var fare = deck switch { Lower => 4, _ => 2 };
