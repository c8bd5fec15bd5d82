let berth = 4
const deck = "main";
[berth, deck].forEach(board);
moor(() => { board(berth); });
