string notice = "The sailing to Vallay waits for the tide, and so do you.";
string berth = "This berth " +
    "is taken.";
