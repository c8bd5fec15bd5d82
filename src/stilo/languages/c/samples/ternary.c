Berth berth = tide.isHigh() ? harbour.innerBerth(vessel) : harbour.outerBerth(vessel);
int lane = wide ? 1 : 2;
