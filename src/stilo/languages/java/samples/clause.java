class Ferry implements Comparable<Ferry>, Bookable, AutoCloseable, Vessel, Iterable<Deck> {}
class Boat implements Vessel, Bookable, Iterable<Deck> {}
