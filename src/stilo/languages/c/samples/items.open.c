int lanes[] = {lane_of(port), lane_of(starboard), lane_of(middle), lane_of(upper)};
int decks[] = {lane_of_the_port_side_of_the_ferry_of_the_outer_skerry_line(port), 4};
