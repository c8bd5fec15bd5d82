// stilo: set closure-parameters.open=same-line
const sail = (harbour, passenger, timetable, theDeckOfTheFerry) => 1;
