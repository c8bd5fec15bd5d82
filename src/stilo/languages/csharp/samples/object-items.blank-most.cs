class Line
{
    Sailing first = new Sailing
    {
        From = "Inner Sound",
        Until = "Stack Point",



        // at high water only
        Lanes = 14,
    };
}
