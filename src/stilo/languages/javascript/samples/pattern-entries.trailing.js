const { north, south, } = lanes;
const { adult, child, senior, student, vehicle, season, cabin, } = fares;
const { adult, child, senior, student, vehicle, season, cabins } = fares;
