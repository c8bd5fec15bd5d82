const board = <p>{isOpen ? (<Board sailings={sailings} first={first} />) : (<Closed />)}</p>;
const short = () => isOpen ? (
  <Board />
) : (<Closed />);
