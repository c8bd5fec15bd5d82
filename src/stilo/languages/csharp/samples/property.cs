class Ferry
{
    int lane;
    int Deck { get; set; }
    int berth;
}
