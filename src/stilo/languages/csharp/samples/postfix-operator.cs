lane++;
