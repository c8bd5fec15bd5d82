String notice = "This berth " +
    "is taken.";
