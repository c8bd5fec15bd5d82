void f(void)
{
    for_each_berth(berth) {
        moor(berth);
    }
    foreach(sailing, timetable) {
        sail(sailing);
    }
    report(
            LATE,
            (late_by(minutes_after_the_timetable),
                    reason_of("the tide at %s is too low", "Stack Point")));
    warning(
            _("the berth at %s is neither free nor "
              "closed"),
            harbour);
    puts(_("the sailing to %s does not call at Northness, nor at any other "
           "closed"));
}

ON_ARRIVAL_2(unload_all_vehicles, struct vehicle_deck *, deck, int, lanes)
{
    return 0;
}

int x;

ON_DEPARTURE(close)
{
    return 0;
}

void steps(void)
{
    for (lane = 0, berth = 1; lane < lanes_of_the_upper_and_of_the_lower_deck; lane++, berth++)
        load(lane);
}
