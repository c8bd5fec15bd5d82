var fare = deck switch { Lower => 4, _ => 2 };
var dues = deck switch {
    Lower => 4, Upper => 2,


    Middle => 3, _ => 1,
};
var total = deck switch { LowerDeckOfTheFerry => 4, UpperDeckOfTheFerry => 3, TheMiddle => 4, _ => 2 };
