fare(adults, children,)
book(adults, children, dogs_of_the_crew, bicycles, prams, pass_of_the_season,)
book(adults, children, dogs_of_the_crew, bicycles, prams, the_pass_of_the_season)
