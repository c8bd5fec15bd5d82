var ferry = new Ferry { Lanes = 4, Decks = 2, Harbour = "north quay of the skerry", Tide = 3 };
var raft = new Raft {
    Lanes = 4,
    Tide = 3,
};
