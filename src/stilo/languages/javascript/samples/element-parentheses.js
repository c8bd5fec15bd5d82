const board = () => (<Board sailings={sailings} first={first} onPick={pick} />);
const short = () => (
  <Board />
);
const berth = () => (<Berth />);
