void moor(Ramp *ramp)
{
#ifdef TIDAL
    lower(ramp);
#endif
}
