package line.skerry;
import line.skerry.berth.Ramp;
