// stilo: set declaration-body.brace=own-line
enum Tide { HIGH, LOW }
