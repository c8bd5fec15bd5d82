class Ferry<TFirstHarbour, TSecondHarbour, TTide, TVehicle, TPassenger> {}
class Boat<TTheTimetableOfTheSummerOfTheWholeFerryCompanyOfSker, TTwo> {}
