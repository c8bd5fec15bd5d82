const a = 1;
const berth = 2;

const b    = 1;
const lane = 2;
