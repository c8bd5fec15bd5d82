moor((lorries_on_the_upper_deck + trailers_on_the_main_deck + cars_on_the_lower_deck) * bicycles)
