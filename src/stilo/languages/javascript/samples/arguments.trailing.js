fare(adults, children,);
book(adults, children, dogsOfTheCrew, bicycles, prams, passOfTheSeason, crew,);
book(adults, children, dogsOfTheCrew, bicycles, prams, passOfTheSeason, crews);
