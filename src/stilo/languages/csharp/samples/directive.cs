class Ferry
{
#if TIDAL
    int lane;
#endif
}
