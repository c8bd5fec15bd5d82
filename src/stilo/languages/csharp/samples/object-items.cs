var ferry = new Ferry { Lanes = 4, Decks = 2, Harbour = "north quay", Tide = 3 };
var boat = new Boat { Lanes = 4, Decks = 2, Tide = 3 };
var raft = new Raft {
    Lanes = 4, Decks = 2,
    Tide = 3,
};
