String notice = "The sailing to Vallay waits for the tide, and so do you.";
String berth = "This berth " +
    "is taken.";
