class TimetableOfTheLine<Load extends Vehicle & Comparable<Load> & Bookable & Insured> {}
class Lanes<Load extends Vehicle & Bookable> {}
