function fare(adults, children,) {}
function book(adults, children, dogsOfTheCrew, bicycles, pramsOfAll, passOfSeason, crewOfTheFerry,) {}
function load(adults, children, dogsOfTheCrew, bicycles, pramsOfAll, passOfSeason, crewOfTheFerry) {}
function all(...decks) {}
