room = (lorries +
    trailers)
fare = adults * fare_of_an_adult + children * fare_of_a_child
