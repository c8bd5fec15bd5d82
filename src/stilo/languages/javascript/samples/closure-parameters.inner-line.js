const sail = (harbour, passenger, timetable, theDeckOfTheFerry) => 1;
