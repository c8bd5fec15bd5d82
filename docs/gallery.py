"""Write docs/gallery.md, and with --pictures its pictures: every role at every wrap value.

    python docs/gallery.py [--pictures]

Each sample is laid out at two widths, with each value of `wrap`, aligned and not; what comes out
the same is shown once. The pictures need matplotlib.
"""

from __future__ import annotations

import sys
from itertools import product
from pathlib import Path
from textwrap import dedent

import stilo

HERE = Path(__file__).parent
PAGE = HERE / "gallery.md"
WIDTHS = (48, 80)
WRAPS = ("row", "flow", "stack", "stack-always")

STATEMENTS = {
    "arguments": "Ticket ticket = office.book(sailing, passenger.id(), upperDeck, length, noon);",
    "items": "int[] laneLengths = {1250, 1250, 980, 980, longest(), 1410, 1410, 760, 760};",
    "type-arguments": "Map<Harbour, Map<LocalDate, List<Sailing>>> sailingsByHarbourAndDay;",
    "condition": "boolean open = berth.isFree() && tide.isHigh() && !ramp.isIced() || captain.insists();",
    "operation": "long fare = base + perMetre * car.length() + perPerson * crowd.size() - rebate;",
    "assignment": "NavigableMap<LocalTime, Sailing> departures = timetable.departuresFrom(skerryHead);",
    "ternary": "Deck deck = vehicle.height() > lowerDeck.clearance() ? upperDeck : lowerDeck;",
    "chain": "List<Ticket> unpaid = office.tickets().filter(Ticket::isOpen).sorted(byDay).toList();",
    "closure-parameters": "Merge merge = (earlierBooking, laterBooking, conflictingBerths) -> keep();",
    "closure": "Rule rule = booking -> ledger.unpaidBalanceOf(booking.passenger()).isNegative();",
    "resources": "try (Log log = office.openLog(this); Line line = office.connect(quay)) { sail(); }",
    "loop-header": "for (int lane = firstOpenLane; lane < deck.lanes(); lane = lane + spacing) load();",
    "labels": "switch (day) { case MONDAY, TUESDAY, WEDNESDAY, THURSDAY, FRIDAY -> sailByWeekday(); }",
    "names": "int carsOnUpperDeck = 0, carsOnLowerDeck = 0, bicyclesOnUpperDeck = 0;",
}
MEMBERS = {
    "parameters": "void moor(Vessel vessel, Berth berth, Tide tide, Duration stay, Pilot pilot) {}",
    "type-parameters": "class Crossing<Craft extends Vessel, Load extends Vehicle> {}",
    "clause": "class Ferry extends Vessel implements Bookable, Insured, Dated, Priced, Crewed {}",
    "header": "public synchronized Ticket book(Sailing sailing) throws FullDeck, Closed, Storm {}",
    "bounds": "class Hold<Load extends Vehicle & Comparable<Load> & Weighed & Measured> {}",
    "enum-items": 'enum Deck { UPPER("cars"), MAIN("lorries"), LOWER("lorries"), SHELF("bicycles") }',
    "annotation-items": '@Calls({"Skerry Head", "Inner Sound", "Northness", "Stack Point"}) class Round {}',
    "annotation-arguments": '@Route(from = "Skerry Head", to = "Inner Sound", minutes = 45) void sail() {}',
}


def sample(role: str) -> str:
    """A whole class with the sample in it."""
    if role in STATEMENTS:
        return f"class A {{ void f() {{ {STATEMENTS[role]} }} }}"
    return f"class A {{ {MEMBERS[role]} }}"


def laid_out(role: str, width: int, wrap: str, align: str) -> str:
    """The sample as it comes out, without the class around it."""
    depth = 2 if role in STATEMENTS else 1
    style = {"width": width + 4 * depth, f"{role}.wrap": wrap}
    if f"{role}.align" in stilo.load_language("java").settings:
        style[f"{role}.align"] = align
    if align == "yes" and f"{role}.open" in stilo.load_language("java").settings:
        style[f"{role}.open"] = "same-line"
    result = stilo.reformat(sample(role), "java", style)
    again = stilo.reformat(result.text, "java", style)
    assert again.text == result.text, f"{role} is not settled with {style}"
    return dedent("\n".join(result.text.split("\n")[depth : -depth - 1]))


def wraps(role: str) -> list[str]:
    """The values of a role's `wrap`."""
    permitted = stilo.load_language("java").settings[f"{role}.wrap"].values_shown
    return [wrap for wrap in WRAPS if wrap in permitted]


def aligns(role: str) -> tuple[str, ...]:
    """The values of a role's `align`, if it has that setting."""
    return ("no", "yes") if f"{role}.align" in stilo.load_language("java").settings else ("no",)


def page() -> str:
    """The gallery as Markdown."""
    language = stilo.load_language("java")
    lines = [
        "# Gallery",
        "",
        "Written by `docs/gallery.py`: each role of the Java sheet that wraps, at each value of its",
        "`wrap` and `align` settings (where it has one), at two widths. Aligned lists keep their first item beside the",
        "opening delimiter (`open: same-line`). What comes out the same is shown once, below the settings",
        "that lead to it.",
        "",
    ]
    pictures = sorted(path.name for path in (HERE / "gallery").glob("*.png"))
    lines += [f"![{name}](gallery/{name})" for name in pictures] + [""] * bool(pictures)
    for role in [*STATEMENTS, *MEMBERS]:
        lines += [
            f"## {role}",
            "",
            f"{language.roles[role][:1].upper()}{language.roles[role][1:]}.",
            "",
        ]
        for width in WIDTHS:
            lines += [f"### {role}, {width} columns", ""]
            shown: dict[str, list[str]] = {}
            for wrap, align in product(wraps(role), aligns(role)):
                shown.setdefault(laid_out(role, width, wrap, align), []).append(
                    wrap + (", aligned" if align == "yes" else "")
                )
            for text, names in shown.items():
                lines += ["; ".join(names), "", "```java", text, "```", ""]
    return "\n".join(lines).rstrip() + "\n"


def draw() -> None:
    """Pictures of three roles each: wrap from left to right, not aligned above aligned."""
    import matplotlib

    matplotlib.use("Agg")
    from matplotlib import pyplot
    from matplotlib.patches import Rectangle

    sign = 0.00469  # of the picture's width, one character
    roles = [*STATEMENTS, *MEMBERS]
    for start in range(0, len(roles), 2):
        some = roles[start : start + 2]
        blocks = [
            [
                [laid_out(role, WIDTHS[0], wrap, align) for wrap in wraps(role)]
                for align in aligns(role)
            ]
            for role in some
        ]
        heights = [[max(text.count("\n") + 1 for text in row) for row in block] for block in blocks]
        total = sum(sum(h) + 6 for h in heights)
        figure = pyplot.figure(figsize=(12.8, max(4.0, total * 0.165)), dpi=100)
        at = 0.6
        for role, block, height in zip(some, blocks, heights):
            figure.text(
                0.01, 1 - at / total, role, family="monospace", size=11, weight="bold", va="top"
            )
            at += 1.6
            for align, row, high in zip(("", ", aligned"), block, height):
                for column, (wrap, text) in enumerate(zip(wraps(role), row)):
                    x = 0.01 + column * 0.248
                    box = Rectangle(
                        (x - 0.002, 1 - (at + high + 1.5) / total),
                        sign * WIDTHS[0] + 0.004,
                        (high + 0.6) / total,
                        facecolor="#f3f5f7",
                        edgecolor="none",
                        transform=figure.transFigure,
                    )
                    figure.add_artist(box)
                    # What runs on past the box is past the width; it is cut before the next one.
                    text = "\n".join(
                        line if len(line) < 52 else line[:50] + " …" for line in text.split("\n")
                    )
                    figure.text(x, 1 - at / total, wrap + align, size=8, color="#666666", va="top")
                    figure.text(
                        x,
                        1 - (at + 1.1) / total,
                        text,
                        family="monospace",
                        size=7.4,
                        va="top",
                        linespacing=1.15,
                        clip_on=True,
                    )
                at += high + 1.9
            at += 0.6
        figure.savefig(HERE / "gallery" / f"{start // 2 + 1:02}.png")
        pyplot.close(figure)


if __name__ == "__main__":
    if "--pictures" in sys.argv[1:]:
        draw()
    PAGE.write_text(page(), "utf-8")
