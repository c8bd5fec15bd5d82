let a = 1;
const  berth = 2;

let   b = 1;
const lane = 2;
