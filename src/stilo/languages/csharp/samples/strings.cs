string notice = "This berth " +
    "is taken.";
