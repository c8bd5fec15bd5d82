const sail = (harbour, passenger, timetable, theDeckOfTheFerry) => 1;
const moor = (deck, lane, berth) => 1;
const leave = (
    harbour, lane) => 1;
const announce = (passenger, sailingOfTheDay, fromTheHarbour, toTheIsland, byTheFerry, at) => 1;
