Lane lane = deck => { return deck; };
Lane berth = deck => {
    return deck;
};
