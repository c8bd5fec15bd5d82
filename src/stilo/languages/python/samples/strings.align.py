announce("The café closes twenty minutes before mooring. "
         "Thank you.")
