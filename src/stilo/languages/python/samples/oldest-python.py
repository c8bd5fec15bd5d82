with deck(upper) as one, deck(lower, height) as other, deck(2):
    load(one, other)
