class Ferry {
    int Lanes {
        [Counted]
        get { return 4; }
        [Logged] set {}
    }
}
