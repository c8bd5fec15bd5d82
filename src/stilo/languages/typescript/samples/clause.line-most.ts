interface Boat extends Vessel, Tied, Fed {}
