"""The solver against an exhaustive search: the same least cost, on random trees and sheets.

What is permitted is stated here once more, from the reference of the properties, and nothing of
the solver is used but its answer.
"""

from __future__ import annotations

import json
from collections.abc import Iterator
from itertools import product
from math import prod
from typing import Any

from hypothesis import HealthCheck, assume, given, settings
from hypothesis import strategies as st

from stilo.language import Language
from stilo.layout.fit import LINE, OVERFLOW, PENALTY, fit
from stilo.layout.gaps import CLOSE, MID, OPEN
from stilo.layout.groups import Group
from stilo.layout.measures import Measures
from stilo.layout.plan import Plan
from stilo.layout.planning import plan
from stilo.registry import sheet_text
from stilo.source import Source

#: Among the gaps of a sequence that flows: its last line is filled as if a line ended at the next gap after it.
BRIEF = -1
#: Per group by number, the gaps that are broken; None if it stays closed.
Choice = dict[int, tuple[int, ...] | None]
#: Of a few trees there are a hundred times as many, which took minutes.
MOST_CHOICES = 1_000


class Oracle:
    """All permitted layouts of a plan, each drawn and paid for."""

    def __init__(self, planned: Plan, measures: Measures) -> None:
        self.plan = planned
        self.groups = planned.groups
        self.measures = measures
        self.texts = [text.decode() for text in planned.tree.texts]
        self.around = {
            n: next((m for m, g in enumerate(self.groups) if n in g.inner), -1)
            for n in range(len(self.groups))
        }
        self.owner = {t: n for n, g in enumerate(self.groups) for t in g.gaps}

    def ways(self, group: Group) -> list[tuple[int, ...] | None]:
        """The sets of gaps that may be broken together, and None where it may stay closed."""
        opening = [t for t, p in zip(group.gaps, group.parts) if p == OPEN]
        middle = [t for t, p in zip(group.gaps, group.parts) if p == MID]
        closing = [t for t, p in zip(group.gaps, group.parts) if p == CLOSE]
        if group.style["close"].value != "own-line":
            closing = []
        pairs: list[tuple[list[int], list[int]]] = []
        if not opening or group.style["open"].value != "same-line":
            pairs.append((opening, closing))
        if opening and group.style["open"].value != "new-line":
            pairs.append(([], []))
        found: list[tuple[int, ...] | None] = [] if group.must_open else [None]
        for first, last in pairs:
            if group.wrap == "flow":  # which of its items begin lines follows from their widths
                found += [(*first, *last), (*first, *last, BRIEF)]
            else:
                found.append((*first, *middle, *last))
                may_share = group.style["inner-line"].value == "yes" and group.wrap == "stack"
                if may_share and first and middle and not group.bulky:
                    found.append((*first, *last))
        return list(dict.fromkeys(found))

    def count(self) -> int:
        """How many combinations there are, with those that may not be."""
        return prod(len(self.ways(group)) for group in self.groups[1:])

    def choices(self) -> Iterator[Choice]:
        """Every combination in which nothing opens within what is closed, save by exception."""
        numbers = range(1, len(self.groups))
        for ways in product(*(self.ways(self.groups[n]) for n in numbers)):
            choice = dict(zip(numbers, ways))
            choice[0] = tuple(self.groups[0].gaps)
            if all(self.is_permitted(n, choice) for n in numbers if choice[n] is not None):
                yield choice

    def is_permitted(self, number: int, choice: Choice) -> bool:
        around = self.around[number]
        group = self.groups[around]
        if around <= 0:
            return True
        if choice[around] is None or self.is_shelf(around, choice):
            part = group.part_of(self.groups[number].first)
            last = len(group.gaps) - (group.parts[-1] == CLOSE)
            item = (
                self.plan.rows.style[self.plan.row[self.plan.tree.gap_right(group.gaps[part - 1])]]
                if part
                else None
            )
            cling = item["cling"].value if item is not None else "none"
            grant = group.style["grant"].value
            may = (
                grant == "all"
                or (grant == "last" and part == last)
                or (
                    0 < part <= last
                    and (
                        cling == "any"
                        or (cling == "last" and part == last)
                        or (cling == "sole" and last == 1)
                    )
                )
            )
            if not may:
                return False
        return choice[around] is not None or self.is_permitted(around, choice)

    def is_shelf(self, number: int, choice: Choice) -> bool:
        """Whether the items of an opened sequence share a line of their own."""
        group, broken = self.groups[number], choice[number] or ()
        middle = [t for t, p in zip(group.gaps, group.parts) if p == MID]
        opened = group.parts[0] == OPEN and group.gaps[0] in broken
        return group.wrap == "stack" and opened and bool(middle) and middle[0] not in broken

    def draw(self, choice: Choice) -> tuple[dict[int, int], int]:
        """The column at which each broken line begins, and what the layout costs."""
        broken = {t for gaps in choice.values() for t in gaps or ()}
        begins: dict[int, list[int]] = {}
        for number in range(1, len(self.groups)):
            begins.setdefault(self.groups[number].first, []).append(number)
        indent: dict[int, int] = {0: 0}
        inner: dict[int, int] = {0: 0}
        part_indent: dict[int, int] = {0: 0}  # of the part of a group that is being drawn
        breaks: dict[int, int] = {}
        lengths: list[int] = []
        column = 0
        for token, text in enumerate(self.texts):
            new_line = token in broken
            if new_line:
                owner = self.owner[token]
                group = self.groups[owner]
                lengths.append(column)
                is_close = group.parts[group.gaps.index(token)] == CLOSE
                column = indent[owner] if is_close else inner[owner]
                breaks[token] = part_indent[owner] = column
            else:
                column += self.plan.space[token]
            for number in begins.get(token, ()):
                group = self.groups[number]
                around = self.around[number]
                indent[number] = (
                    part_indent[around] if choice[around] is not None else indent[around]
                )
                step = self.measures.step(group.style, False)
                opened = group.gaps[0] in (choice[number] or ()) and group.parts[0] == OPEN
                inner[number] = indent[number] + step
                if group.style["wrap"].value != "stack-always":
                    inner[number] = max(indent[number], min(inner[number], self.measures.width))
                if group.style["align"].value == "yes" and not opened:
                    inner[number] = column
                    if group.parts[0] == OPEN:
                        first = group.gaps[0]
                        inner[number] += sum(len(self.texts[t]) for t in range(token, first))
                        inner[number] += self.plan.space[first]
                part_indent[number] = indent[number]
                if group.wrap == "flow" and choice[number] is not None:
                    at = inner[number] if opened else column
                    is_brief = BRIEF in (choice[number] or ())
                    broken.update(self.filled(group, at, inner[number], opened, broken, is_brief))
            column += len(text)
        lengths.append(column)
        cost = sum(max(0, n - self.measures.width) for n in lengths) * OVERFLOW
        cost += len(breaks) * LINE
        for number, gaps in choice.items():
            group = self.groups[number]
            if number and gaps is not None:
                cost += int(group.style["cost"].value) * PENALTY
            elif number and any(group.gaps[0] < t < group.end and t in breaks for t in breaks):
                items = group.parts.count(MID)
                least = 1 if group.parts[0] == OPEN else 0
                cost += max(least, items - 1) * int(group.style["hold"].value) * PENALTY
        return breaks, cost

    def filled(
        self, group: Group, column: int, inner: int, opened: bool, broken: set[int], is_brief: bool
    ) -> list[int]:
        """The items of a flowing sequence that begin lines: those that no longer fit unbroken."""
        first = group.gaps[0] if opened else group.first
        gaps = [t for t, p in zip(group.gaps, group.parts) if p == MID]
        certain = [
            g.gaps[0]
            for g in self.groups[1:]
            if g.must_open and not g.fixed and g.wrap == "stack-always" and is_plain(g)
        ]
        # What follows the last item counts up to a line end of the sequences around.
        number = self.groups.index(group)
        ends = {*certain, *(self.owner if is_brief else ())}
        while number > 0:
            number = self.around[number]
            ends |= broken.intersection(self.groups[number].gaps)
        found: list[int] = []
        closes = group.parts[-1] == CLOSE and group.gaps[-1] in broken
        for begin, end in zip([first, *gaps], [*gaps, group.gaps[-1] if closes else group.end]):
            width = sum(self.plan.space[t] + len(self.texts[t]) for t in range(begin, end))
            if begin == first:
                width -= self.plan.space[begin]
            stop = end
            if end == group.end:
                while stop < len(self.texts) and stop not in ends:
                    width += self.plan.space[stop] + len(self.texts[stop])
                    stop += 1
            after_hard = any(
                g.bulky and found_in(g, gaps, begin, first)
                for g in self.groups[1:]
                if g is not group
            )
            if begin != first and (after_hard or column + width > self.measures.width):
                found.append(begin)
                column = inner - self.plan.space[begin]
            column += width
        return found


def is_plain(group: Group) -> bool:
    """Whether a group that must open breaks before its first item."""
    style = group.style
    return (
        (style["open"].value, style["align"].value, style["keep"].value)
        == ("new-line", "no", "none")
    )


def found_in(inner: Group, gaps: list[int], begin: int, first: int) -> bool:
    """Whether a group breaks within the item before the one that begins at a gap."""
    before = max([t for t in [first, *gaps] if t < begin], default=first)
    return any(before < t < begin for t in inner.gaps)


def language_of(rules: str) -> Language:
    return Language([("base", sheet_text("base")), ("toy", TOY + rules)])


TOY = """
@language toy { grammar: tree_sitter_json; pairs: "{" "}" "[" "]"; }
@role file { blank-most: 0 }
string, number, true, false, null { token: word }
document { role: file }
"," { role: comma; break: after }
":" { role: map-colon }
"{", "[" { after: none; break: open }
"}", "]" { before: none; break: close }
"""


def value(words: str) -> st.SearchStrategy[str]:
    return st.sampled_from(words.split())


@st.composite
def sheets(draw: Any) -> str:
    """Rules for arrays and objects, at the top and below, and exceptions for some items."""
    rules = []
    for selector in ("array", "object", "array array, object array", "array object"):
        rules.append(
            f"{selector} {{ wrap: {draw(value('stack flow stack-always'))};"
            f" indent: {draw(value('block continuation none'))};"
            f" open: {draw(value('new-line same-line either'))}; close: {draw(value('own-line same-line'))};"
            f" inner-line: {draw(value('yes no'))}; align: {draw(value('yes no'))};"
            f" cost: {draw(st.integers(0, 9))}; hold: {draw(st.integers(0, 3))};"
            f" grant: {draw(value('none none last all'))}; }}"
        )
    for selector in ("array > array", "array > object", "array > array:first-child"):
        rules.append(f"{selector} {{ cling: {draw(value('none sole last any'))} }}")
    return "\n".join(rules)


leaves = st.sampled_from([7, 1234567, "berth", "upper car deck", None])
trees = st.recursive(
    leaves,
    lambda inner: st.lists(inner, min_size=1, max_size=4)
        | st.dictionaries(
            st.sampled_from(["id", "lanes", "skerry"]), inner, min_size=1, max_size=2
        ),
    max_leaves=9,
)


@given(trees, sheets(), st.integers(20, 34))
@settings(max_examples=100, deadline=None, suppress_health_check=list(HealthCheck))
def test_no_permitted_layout_costs_less(tree: Any, rules: str, width: int) -> None:
    language = language_of(rules)
    values = language.values({"width": width})
    source = Source.from_text(json.dumps(tree))
    flat = language.bracketed(language.read(source.data).tree)
    measures = Measures(width, 4, 8)
    planned = plan(flat, language.rows(values), language.kinds.punctuation, measures)
    fitted = fit(planned, measures)
    oracle = Oracle(planned, measures)
    # A single sequence has no choice to speak of; a dozen have too many to try them all.
    assume(2 < len(planned.groups) <= 9 and oracle.count() <= MOST_CHOICES)
    drawn = [oracle.draw(choice) for choice in oracle.choices()]
    least = min(cost for _, cost in drawn)
    assert least in [cost for breaks, cost in drawn if breaks == fitted.breaks]
