berths = R"\d+", B"deck", F"{hold}"
