class Harbour
{
    public static async Task<IReadOnlyDictionary<string, IReadOnlyList<Sailing>>>
            FindSailingsByBerthAsync(string berth, int lane)
    {
        await Open();
        return null;
    }

    public static Task<List<Sailing>> FindSailings(string berth, string harbour, int lane, int deck)
    {
        Open();
        return null;
    }

    public event EventHandler<SailingDepartedEventArguments<Berth, Deck>>
            SailingDepartedFromTheNorthernBerth;
    private readonly SortedDictionary<string, List<Sailing>> sailings =
            new SortedDictionary<string, List<Sailing>>(byName);
    public Ticket this[
            string berth,
            Dictionary<string, IReadOnlyList<Sailing>> sailings,
            int lane,
            int row] { get { return null; } }
    public string Name { get { return name; } }
    public int Lane
    {
        get { return lane; }
        set { lane = value; }
    }

    void Open()
    {
        this.decks.AddRange(new object[] {
            "Upper", "Main", "Lower", "Shelf", "Bicycles", "Lorries and trailers", "Cars"
        });
    }
}

class FerryOfTheOuterIslands
        : Vessel, ITimetabled, IRegistered, IInsured, IComparable<FerryOfTheOuterIslands> {}

class Updates
{
    void Load()
    {
        for (int upperLane = 0, lowerLane = numberOfAllLanes, middle = lowerLane / 2;
                upperLane < lowerLane;
                upperLane++, lowerLane--)
            Stow();
    }
}

[
    Sailing("Inner Sound to Stack Point"),
    Ramped(false),
    Berthed(3),
    Timetabled("winter"),
    InsuredFor(Vehicles.All)
]
class Attributed
{
    [Counted]
    int Lanes
    {
        [Counted]
        get { return 4; }
        [Logged] set {}
    }

    void Check()
    {
        Expect.Throws<NoBerthException>(
                "Northness", null, () => harbour.MoorTheFerryAt("the northern berth"));
        this.departure = this.RegisterTheDeparture(
                observer, subscription, sailing => sink.Sailing = sailing);
        Task.Run(() => harbour.WhenTheTideIsHigh(tide => { depart(tide); }));
        CurrentHarbour.Instance.Schedule(
                this, (_, me) => subscription.Sailing = me.Run(observer, subscription, sail));
    }
}
