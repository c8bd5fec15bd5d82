notice = ("This berth " +
    "is taken.")
