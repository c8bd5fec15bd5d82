[Sailing("north quay", "outer skerry", Tide.High, Deck.Upper, 4)]
class Ferry {}
[Sailing("the north quay of the outer skerry of the whole line", 4)]
class Boat {}
