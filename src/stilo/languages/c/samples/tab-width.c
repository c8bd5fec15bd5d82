// stilo: set indent=8
void moor(Ramp *ramp)
{
/* Moored here:
		the Puffin
	the Fulmar */
    lower(ramp);
}
