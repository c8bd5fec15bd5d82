int ramps[] = {bow(), stern(), side()};
