class FerryOfTheIslands extends Vessel implements Booked, Insured {}
class Boat extends Vessel implements Booked {}
