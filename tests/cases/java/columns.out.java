class Berth {
    private int                 lanes         = 4;             // cars
    private static final String name          = "Skerry Line"; // of the berth
    long                        n             = 2;
    double                      depthInMetres = 4.5;
    Map<String, List<Berth>>    byHarbour;
    int                         a, b = 3;

    int alone = 1;

    void f() {
        x            = 1;      // wide: 埠頭
        longer       = 22;     // two
        this.berth.z = "埠頭"; // three
        go();                  // four
        // a comment of its own parts a run
        q = 1;
        soon = computeSomethingThatIsVeryLong(
                withArguments, andMoreArguments, andOne, more1);
        veryLongNameOfAVariable = computeSomethingThatIsVeryLong(
                withArguments, andMoreArguments, x, y);
        zz  = 3;
        zzz = 4;
    }

    enum Deck {
        UPPER     (1, "u"),
        LOWER_CARS(22, "lc"),
        NONE
    }

    interface Book {
        int         find   (String name);
        List<Berth> findAll(int deck, int lane);
        void        x      ();
    }
}
