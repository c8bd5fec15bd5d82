const fare = (adults, children,) => 1;
const book = (adults, children, dogsOfTheCrew, bicycles, pramsOfAll, passOfSeason, crewOfTheFerry,) => 1;
const load = (adults, children, dogsOfTheCrew, bicycles, pramsOfAll, passOfSeason, crewOfTheFerry) => 1;
