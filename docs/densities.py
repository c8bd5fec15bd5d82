"""What docs/density.md shows: one text at each density, side by side."""

from __future__ import annotations

from itertools import zip_longest
from textwrap import dedent

import stilo

DENSITIES = {"dense": "few full lines", "even": "the default", "airy": "many short lines"}
#: Language → its text, and the width at which it is shown.
TEXTS = {
    "python": (
        '''
        def board(passenger, vehicle, sailing, lanes, deck=None):
            ticket = office.book(passenger.name, sailing.departure(), vehicle, deck)
            if vehicle.height < deck.clearance and lane.is_open and not ramp.is_moving:
                deck.place(vehicle, lanes.pop(), ramp, tide)
            fare = base_fare + per_metre * vehicle.length + per_person * vehicle.seats
            return tickets.paid().sorted_by(departure_time).of_the_day(sailing.day)
        ''',
        50,
    ),
    "java": (
        '''
        void board(Passenger passenger, Vehicle vehicle, Sailing sailing) {
            Ticket ticket = office.book(passenger.name(), sailing.departure(), vehicle, deck);
            if (vehicle.height() < deck.clearance() && lane.isOpen() && !ramp.isMoving()) load();
            long fare = baseFare + perMetre * vehicle.length() + perPerson * vehicle.seats();
            office.announce(passenger.name(), sailing.ship());
            lanes.forEach(lane -> lane.place(vehicle, ramp.position(), passenger.ticket()));
        }
        ''',
        50,
    ),
}


def page() -> str:
    """The whole page."""
    parts = [
        "# Dense, even, airy\n",
        "`density` says whether a statement that does not fit takes few full lines or many short ones. "
        "Written by `docs/generate.py`.\n",
        "- `dense`: items fill their lines, operands and the links of a chain too; a line costs as much "
        "as a list that is opened.",
        "- `even`, the default: the items of a list share one line below the opening bracket if they fit "
        "there; else each has its own. Names and numbers fill lines.",
        "- `airy`: each item, operand and link has its own line, and a list is opened around whatever is "
        "opened in it.\n",
    ]
    for language, (text, width) in TEXTS.items():
        parts += [
            f"## {language.capitalize()}\n",
            *map(_indented, _side_by_side(language, dedent(text), width)),
        ]
        parts.append("")
    return "\n".join(parts).rstrip() + "\n"


def _side_by_side(language: str, text: str, width: int) -> list[str]:
    columns = []
    for density, what in DENSITIES.items():
        style = {"width": width, "density": density, "continuation": 4}
        frame = f"class Ferry {{{text}}}" if language == "java" else text
        lines = stilo.reformat(frame, language, style).text.rstrip().split("\n")
        if language == "java":
            lines = [line[4:] for line in lines[1:-1]]
        columns.append([f"{density}: {what}", "", *lines])
    return [
        "   ".join(line.ljust(width) for line in lines).rstrip()
        for lines in zip_longest(*columns, fillvalue="")
    ]


def _indented(line: str) -> str:
    return f"    {line}".rstrip()
