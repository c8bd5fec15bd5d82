class Ferry
{
    int Deck { get; set; }
    int Lane {
        get; set;
    }
    TheTimetableOfTheSummer Timetable { get; internal protected set; }
}
