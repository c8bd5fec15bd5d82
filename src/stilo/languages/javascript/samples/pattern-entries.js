const { north, south } = lanes;
const {
  car, bus } = decks;
const { adult, child, senior, student, vehicle, season, cabin } = fares;
const { adults, children, seniors, students, vehicles, seasons, cabins, decks } = all;
