[SailingOfTheDay("north quay", "outer skerry", Tide.High, 4, 2)]
class Ferry {}
