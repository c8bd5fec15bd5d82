interface FerryOfTheIslands extends Vessel, Timetabled, Registered, Insured, Comparable {}
interface Boat extends Vessel, Registered {}
