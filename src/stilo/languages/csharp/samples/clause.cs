class Ferry : Vessel, ITimetabled, IRegistered, IInsured, IComparable {}
class Boat : Vessel, IRegistered, IInsured {}
