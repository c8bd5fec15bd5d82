// stilo: set annotation-arguments.open=same-line
[Sailing("north quay", "outer skerry", Tide.High, Deck.Upper, 4)]
class Ferry {}
