// stilo: set function-body.brace=own-line
void lower(Ramp *ramp) {
    stop(ramp);
    report(ramp);
}
