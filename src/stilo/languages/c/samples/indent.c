void moor(Ramp *ramp, Tide tide)
{
    if (is_high(tide)) {
        lower(ramp);
    }
}
