using Berths = Skerry.Line.Tides;
using static Quay.Line.Fares;
using Skerry;
