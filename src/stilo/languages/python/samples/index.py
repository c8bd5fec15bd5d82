lane = lanes_of_the_line[harbour_of_departure, sailing_of_the_summer, deck]
berth: Mapping[HarbourOfDeparture, Sequence[SailingOfTheSummer], Vehicle] = {}
lane: Mapping[Deck, Lane]
