int moor(Ramp *ramp)
{
    if (!ramp)
        goto done;
    lower(ramp);
done:
    return 0;
}
