using Skerry.Berth;


using Skerry.Tide;
class Ramp {}
