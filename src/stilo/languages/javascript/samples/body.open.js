// stilo: set function-body.brace=own-line
function sail() { moor(berth); load(deck); }
