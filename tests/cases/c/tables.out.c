static const int depths[3][2] = {
    {8, 7},
    {17, 17},
    {5, 12}
};
static const char *harbours[] = {
    "Inner Sound", "Stack Point", "Northness", "Vallay", "Old Quay", "Ferry Slip", "Outer Skerry",
    "Holm", "The ferry slip"
};
