// stilo: set declaration-body.brace=own-line
enum Tide { High, Low }
