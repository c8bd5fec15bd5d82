const notice = "This berth " +
    "is taken.";
