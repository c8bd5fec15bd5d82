[Sailing("north quay", "outer skerry", Tide.High, Deck.Upper, 4)]
class Ferry {}
[Sailing("north quay", 4, 2)]
class Boat {}
[Sailing(
    "north quay", 4)]
class Raft {}
