class Ferry<T> where T : Vessel, ITimetabled, IRegistered, IInsured, new() {}
class Boat<T> where T : Vessel, new() {}
