office.sell(adults, children, dogs, bicycles, prams, lorries, crew, islanders);
