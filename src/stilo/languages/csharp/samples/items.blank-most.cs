class Line
{
    string[] harbours = {
        "Inner Sound",
        "Outer Sound",



        // at high water only
        "Stack Point",
    };
}
