const notice = "The sailing to Vallay waits for the tide, and so do you.";
const berth = "This berth " +
    "is taken.";
