class SailingOfTheSummerHolidays extends SailingsOfTheYear {}
class Boat extends Vessel {}
