"""In which ways a sequence may be opened: the gaps that are then broken together."""

from __future__ import annotations

from collections.abc import Set

from stilo.layout.gaps import CLOSE, MID, OPEN
from stilo.layout.groups import Group
from stilo.layout.indents import close_breaks
from stilo.layout.nesting import ends_with_separator, may_open_inside, opens_late
from stilo.layout.plan import Plan

#: (cost beside the sequence's own, the gaps to break)
Way = tuple[int, list[int]]


def may_open(plan: Plan, group: Group, number: int, gone: Set[int]) -> bool:
    """Whether the group of a number may open in another that stays closed.

    gone: separators after last items that are not to stay.
    """
    return group.own or may_open_among(plan, group, number, gone)


def may_open_among(plan: Plan, group: Group, number: int, gone: Set[int]) -> bool:
    """Whether the group of a number may open where the items of the one around it share a line."""
    if opens_late(plan, group, number, gone):
        return True
    return may_open_inside(plan, group, group.part_of(plan.groups[number].first), gone)


#: What it costs to break before the first link of a chain, of several or of one.
BROKEN_FIRST, BROKEN_ONLY = 2, 4


def ways_to_stack(plan: Plan, group: Group, is_airy: bool, gone: Set[int]) -> list[Way]:
    """The gaps that may be broken together so that each item has a line, and exceptions."""
    middle = [t for t, p in zip(group.gaps, group.parts) if p == MID]
    ways: list[Way] = []
    for opening, closing in delimiters(group):
        ways.append((0, [*opening, *middle, *closing]))
        if opening and middle and not is_airy and may_share(plan, group, gone):
            ways.append((0, [*opening, *closing]))
    if middle and middle[0] not in group.forced and _keeps_first(plan, group):
        kept = [(extra, [t for t in way if t != middle[0]]) for extra, way in ways]
        # To open the list of the first of several links reads worse than to break before it.
        more = BROKEN_FIRST if len(middle) > 1 else BROKEN_ONLY
        ways = [(extra + more, way) for extra, way in ways]
        ways = [(extra, way) for extra, way in kept if way] + ways
    return ways


def delimiters(group: Group) -> list[tuple[list[int], list[int]]]:
    """Which of the gaps within the delimiters may be broken: (opening, closing) pairs."""
    opening = [t for t, p in zip(group.gaps, group.parts) if p == OPEN]
    closing = [t for t, p in zip(group.gaps, group.parts) if p == CLOSE]
    must_open = [t for t in opening if t in group.forced]
    must_close = [t for t in closing if t in group.forced]
    closing = [t for t in closing if close_breaks(group, t)]
    mode = "new-line" if group.hanging or group.deep else group.style["open"].value
    pairs = []
    if not opening or mode not in ("same-line", "beside"):
        pairs.append((opening, closing))
    if opening and mode in ("same-line", "either", "beside") and opening != must_open or not pairs:
        pairs.append((must_open, must_close))
    return pairs


def may_share(plan: Plan, group: Group, gone: Set[int]) -> bool:
    """Whether the items of a stacked group may share one line of their own, or two."""
    return (
        group.style["inner-line"].value != "no"
        and group.style["authored"].value != "yes"
        and not group.stacked
        and group.wrap == "stack"
        and not (group.bulky or ends_with_separator(plan, group, gone))
        and not (MID in group.parts and any(plan.groups[n].hard for n in group.inner))
    )


def _keeps_first(plan: Plan, group: Group) -> bool:
    """Whether the first item may stand beside what is before it, as the first link of a chain does."""
    groups = plan.groups
    keep = group.style["keep"].value
    second = group.gaps[1] if len(group.gaps) > 1 else group.end
    for number in group.inner:
        if groups[number].bulky and group.gaps[0] <= groups[number].first < second:
            return False  # a first link of many lines would stand apart from the others
    if keep == "name":
        head_end = group.gaps[0]
        return (
            not any(groups[n].first < head_end for n in group.inner)
            and plan.tree.token_text(head_end - 1)[-1:] not in (b")", b"]", b"}")
        )
    return keep == "always"
