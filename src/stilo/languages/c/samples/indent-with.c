void moor(Ramp *ramp)
{
    lower(ramp);
}
