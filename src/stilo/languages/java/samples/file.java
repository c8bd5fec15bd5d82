import line.skerry.Berth;


import line.skerry.Tide;
class Ramp {}
