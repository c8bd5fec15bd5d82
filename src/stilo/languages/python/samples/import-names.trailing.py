from line.skerry.sailing import (Berth, Deck, Ferry, Harbour, Lane, Tide,)
from line.skerry.tickets import TheFareOfTheSummerSeason, TheTicketOfTheWholeSummerSeason
