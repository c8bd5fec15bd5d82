int lower(Ramp *ramp)
{
    if (ramp->is_moving) {
        stop(ramp);



        report(ramp);
    }
    return 0;
}
