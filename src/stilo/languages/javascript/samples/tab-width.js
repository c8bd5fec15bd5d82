// stilo: set indent=8
class Berth {
/* Moored here:
		the Puffin
	the Fulmar */
  moor() { ramp.lower(); }
}
