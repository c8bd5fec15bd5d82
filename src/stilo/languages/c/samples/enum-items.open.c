// stilo: set declaration-body.brace=own-line
enum deck {
    LOWER,
    UPPER,
};
