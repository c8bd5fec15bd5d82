const departureOfTheSailing = schedule.departureOf(northernSailing);
