Supplier<Timetable> timetable = () -> office.timetableOfTheSummer(line);
Runnable moor = () -> ramp.lower();
