from line.skerry.sailing import Berth, Deck, Ferry, Harbour, Lane
from line.skerry.tickets import Fare, Ticket, TicketOffice, Season, Passenger
from line.skerry.tide import (
    High, Low)
from line.skerry.ramp import Ramp, Gate, Hinge
from line.skerry.harbours import Skerryvore, InnerHolm, OuterHolm, GannetSound, TheStack, Northness
