// stilo: set switch-arms.wrap=stack
var fare = deck switch {
    Lower => 4, Middle => 3,
    _ => 2
};
