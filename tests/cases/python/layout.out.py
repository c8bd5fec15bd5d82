#!/usr/bin/env python3
# -*- coding: utf-8 -*-
"""Tickets of Skerry Line."""

import os, sys
from line.skerry.sailing import Berth, Deck
from line.skerry.tickets import (
    Fare, Ticket, TicketOffice, Season, Passenger, Vehicle
)

FARES = {'single': 4, 'return': 7}
LANES = [1, 2, 3]


@office.route("/sell", methods=["POST"])
async def sell(
    passenger, vehicle: Vehicle = None, *rest, lane, deck=2, **more
) -> Ticket:
    # first of all

    x: int = 3
    if (
        passenger.is_child and not passenger.is_alone
        or vehicle is not None and vehicle.height > 4.2
    ):
        return free
    elif x:
        y()
        z()
    else:
        w = [lane for lane in range(3) if lane]
    # what comes before

    # the next statement
    return passenger if x else vehicle


class Office(TicketOffice, metaclass=Meta):
    """Sells."""

    def fare(self):
        return lambda kind, y=1: FARES[kind] + y

    # at the end of the class

    async def board(self):
        async with (
            self.ramp.lowered(slowly=True) as ramp,
            self.deck.opened(ramp) as deck,
            self.log as log
        ):
            await deck.take(vehicle)
        assert isinstance(self.ramp, Ramp) and self.ramp.is_down, (
            "the ramp of %s is not down" % self.ramp.berth
        )
        total = (
            self.lorries.length()
            + self.trailers.length()
            + self.bicycles.length()
            - self.gaps
        )
        price = total * 2
        lanes[first:last], lanes[first+1 : last - 1] = -price, not price
        long = total + price
        notice = (
            "The café closes "
            "twenty minutes before mooring."
        )
        raise ValueError(
            "no lane of deck %d has %d metres left" % (deck, total)
        ) from error


def tide(level, /, *, high=True, **more):
    for name, (low, high) in sorted(
        more.items(), key=lambda pair: (pair[1], pair[0].lower())
    ):
        print(f"{name!r:>{level}}", end='')
    else:
        del low, high
    try:
        level **= 2
        level @= m
    except (OSError, ValueError) as error:
        pass
    finally:
        global count
    match level:
        case [1, *rest] if rest:
            pass
        case {"low": low, **others} | Tide(level=1):
            pass
        case _:
            pass
    while (more := ask()):
        yield more
    print(a[0](b).c, *d, **e)


if __name__ == '__main__':
    sys.exit(main())
# the end


print(
    "This berth is taken until the morning.\n"
    + "Ask at the office, which "
    + "opens at seven."
)
