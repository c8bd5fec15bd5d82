length = lorries_on_the_upper_deck + trailers_on_the_main_deck + bicycles
