notice = ("The café closes twenty minutes " "before mooring. " "Thank you.")
say("Mind " "the gap.")
