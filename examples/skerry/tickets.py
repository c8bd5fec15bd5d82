#!/usr/bin/env python3
'''Sells the tickets of Skerry Line; typed at the counter in 2014, never tidied since.'''

import os, sys
import json
from line.skerry.sailing import Sailing, Berth, Deck
from line.skerry.tariff import (
    single_fare, return_fare, season_fare, crew_fare, lorry_fare, bicycle_fare
)

FARES = {
    'single': single_fare,
    'return': return_fare,
    'season': season_fare,
    'crew': crew_fare,
    'lorry': lorry_fare,
}


class SoldOut(Exception):
    pass


class Counter:
    """One counter on the quay."""

    def __init__(
        self, quay, *, open_at="06:30", speaks: list[str] = None, closed=False
    ):
        self.quay = quay
        self.open_at = open_at
        self.speaks = speaks or ['en', 'gd']
        self.sold = []

    def fare(self, passenger, vehicle=None, kind='single'):
        # children and the crew sail for less
        if (
            passenger.age < 4
            or passenger.is_crew and not vehicle
            or passenger.season_ticket is not None
                and passenger.season_ticket.is_valid()
        ):
            return 0
        elif kind not in FARES:
            raise KeyError(
                "no fare of the kind %r; there are %s"
                % (kind, ', '.join(sorted(FARES)))
            )
        base = FARES[kind](passenger) + (
            vehicle.length * vehicle.height * FARES['lorry'](passenger)
            if vehicle is not None and vehicle.height > 2.2
            else 0
        )
        return round(base, 2)  # in pounds

    def sell(self, sailing, passengers, vehicles=(), **options):
        free = {
            deck.number: deck.length
                - sum(
                    vehicle.length
                    for vehicle in deck.vehicles
                    if not vehicle.is_cancelled
                )
            for deck in sailing.decks
            if deck.is_open
        }
        with (
            self.ledger(sailing.day) as ledger,
            sailing.locked(
                by=self, timeout=options.get('timeout', 30)
            ) as seats,
            self.log as log
        ):
            for (number, passenger) in enumerate(passengers):
                if not seats:
                    raise SoldOut(
                        f"sailing {sailing.number} to {sailing.berth.harbour!r} has no seat left for {passenger.name}"
                    )
                seats.take(passenger)
                ledger[number] = self.fare(
                    passenger, kind=options.pop('kind', "single")
                )
        total = (
            sum(ledger.values())
            + sum(self.fare(owner, vehicle) for owner, vehicle in vehicles)
            - self.rebate(len(passengers), sailing)
        )
        self.sold += [{
            'sailing': sailing.number,
            'passengers': [passenger.name for passenger in passengers],
            'total': total,
        }]
        return total, [seat for seat in seats.taken()[-len(passengers):]]
    # a counter without a quay is a van


def main(arguments=sys.argv[1:]):
    counter = Counter(quay=os.environ.get("SKERRY_QUAY", "north"))
    try:
        print(json.dumps(counter.sold, indent=2))
    except (OSError, ValueError) as error:
        print("could not print what was sold:", error, file=sys.stderr)
        return 1
    else:
        return 0


if __name__ == '__main__':
    sys.exit(main())
