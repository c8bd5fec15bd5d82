int lanes[] = {lane_of(port), lane_of(starboard), lane_of(middle), lane_of(upper)};
int decks[] = {lane_of(port), lane_of(starboard),};
