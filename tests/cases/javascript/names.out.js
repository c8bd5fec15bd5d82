const decks = {
    cars: "the lowest one, with the ramp",
    trucks: "the one above it",
    lounge: "the highest"
  },
  first = { d: 4 };
const berth = 3,
  quay = "north",
  lanes = [1, 2, 3],
  rest = { cars: 1, trucks: 2 },
  sailing = next();
var tide = arguments.length > 0 && arguments[0] !== void 0 && isDeepEnough
    ? arguments[0]
    : {},
  ebb = tide.next;
var only = {
  cars: "the lowest one, with the ramp",
  trucks: "the one above it",
  lounge: "the highest"
};
