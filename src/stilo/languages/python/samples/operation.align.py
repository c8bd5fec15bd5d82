announce("The sailing to %s leaves from the other berth"
         % harbour.name)
