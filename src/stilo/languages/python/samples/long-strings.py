notice = "The sailing to Vallay waits for the tide, and so do you."
berth = ("This berth "
         "is taken.")
