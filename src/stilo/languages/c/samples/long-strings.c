const char *notice = "The sailing to Vallay waits for the tide, and so do you.";
const char *berth = "This berth "
    "is taken.";
