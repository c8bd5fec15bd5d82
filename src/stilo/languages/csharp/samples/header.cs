class FerryOfTheOuterIslands : Vessel where TDeckOfTheFerry : Deck {}
class Boat : Vessel {}
