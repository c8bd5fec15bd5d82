class Ticket {
    int lanes() { return lanes; }
    void set(int lanes)
    { this.lanes = lanes; }
    void both() { print(); stamp(); }
    void told() { /* why */ print(); }
    void noted() { print(); // now
    }
    void guarded() { if (full) { return; } else { print(); } }
    void far() throws NoSuchSailingException, FullDeckException { sailings.findTheFirstOneAfter(now); }
    void each() {
        sailings.forEach(s -> { print(s); });
        sailings.forEach(s -> {
            print(s); });
        Runnable later = () -> { print(); };
        Runnable deep = () -> { sailings.forEach(s -> { print(s); }); };
        Object o = new Object() { int lanes; };
        for (;;) { }
        while (open) { board(); }
        try { board(); } catch (FullDeckException e) { wait(e); } finally { close(); }
    }
    class Empty { }
    class One { int lanes; }
}
