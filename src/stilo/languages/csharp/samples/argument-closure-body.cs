Lane lane = Board(deck => { return deck; });
Lane berth = Board(deck => {
    return deck;
});
