class Ferry
{
    int Deck { get { return deck; } }
    int Lane
    {
        get { return lane; }
    }
}
