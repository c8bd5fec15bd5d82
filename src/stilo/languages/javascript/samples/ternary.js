berth = tideIsRising ? northernBerthOf(harbour) : southernBerthOf(harbour);
lane = late ? inner : outer;
