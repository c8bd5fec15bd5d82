int check(void)
{
    if (harbour_register_sailing(harbour, "inner sound", sailing_of_the_day, lanes_in_use, 0, 0)
            == HARBOUR_ERROR)
        return 1;
    return (flags_of_the_sailing
            & (SAILING_IS_LOADED | SAILING_IS_DELAYED | SAILING_IS_CANCELLED | CREW)) != 0;
}
