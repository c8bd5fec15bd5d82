void moor(void)
{
    lower_ramp(berth), tide = measure_tide(berth), depart(sailing);
}
