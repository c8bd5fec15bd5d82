class Ferry
{
    int Deck
    {
        get { return deck; }
        set {
            deck = value;
        }
    }
}
