fare(adults, children,)
book(adults, children, dogs_of_the_crew, bicycles, prams=2, pass_of_the_season=1,)
book(adults, children, dogs_of_the_crew, bicycles, prams=2, the_pass_of_season=1)
