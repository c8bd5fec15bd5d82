const field = <input type="text" name="berth" placeholder="The berth of the ferry" required />;
const berth = <Berth number={4} quay="north" onPick={pick} isOpen>the first of the day</Berth>;
