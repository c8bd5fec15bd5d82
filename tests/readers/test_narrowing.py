"""The fewest items that have to be left as they are for a fault to go."""

from __future__ import annotations

from typing import Any, cast

import pytest

from stilo.readers.reading import Change, Reading, taken_by
from stilo.readers.repair import _Narrowing, _Run, _Search, _Site
from stilo.readers.views import Stretch


class Items:
    """A stretch of sixteen bytes: eight items of two bytes each, which have none within them."""

    def items_in(self, stretch: Stretch) -> list[Stretch]:
        start, end = stretch
        return [(at, at + 2) for at in range(0, 16, 2)] if end - start == 16 else []

    def lines_of(self, start: int, end: int) -> Reading:
        change = Change(start, end, b" " * (end - start), "unread")
        return Reading("lines", (change,), (), ((start, end),))


def narrowed(bad: set[int], rounds: int = 100) -> set[int]:
    """The items that stay, if those that are bad have to, after so many rounds."""
    look = cast("Any", Items())
    narrowing = _Narrowing((0, 16), look.lines_of(0, 16), [_Run([(0, 16)], 0, 1)])
    for _ in range(rounds):
        if (tried := narrowing.next(look)) is None:
            break
        narrowing.judge(tried, bad <= items_of(tried))
    return items_of(narrowing.best)


def items_of(reading: Reading) -> set[int]:
    return {at // 2 for change in reading.changes for at in range(change.start, change.end)}


@pytest.mark.parametrize("bad", [{0}, {7}, {3}, {0, 7}, {3, 4}, {1, 2, 6}, set(range(8))])
def test_no_more_stays_than_has_to(bad: set[int]) -> None:
    assert narrowed(bad) == bad


def test_each_round_that_helps_leaves_fewer() -> None:
    """So that what is known can be taken where the search has to end."""
    assert [len(narrowed({0}, rounds)) for rounds in range(5)] == [8, 4, 2, 1, 1]


def test_a_search_that_has_to_end_takes_the_fewest_lines_known() -> None:
    best = cast("Any", Items()).lines_of(4, 6)
    site = _Site(0, 16, 16, 1, iter(()), narrowing=_Narrowing((0, 16), best, []))
    other = _Site(16, 20, 20, 1, iter(()))
    nothing = cast("Any", None)
    search = _Search(b"", nothing, nothing, nothing, frozenset(), frozenset(), {}, {}, [], [])
    search.sites = {0: site, 16: other}
    search._take_best()
    assert search.accepted == [best] and not search.sites


def reading(start: int, end: int, name: str = "aside") -> Reading:
    return Reading(name, (Change(start, end, b" " * (end - start), name),))


def kept(readings: list[Reading]) -> list[tuple[int, int]]:
    return [(c.start, c.end) for r in taken_by(readings).kept for c in r.changes]


def test_readings_beside_each_other_are_taken_and_those_that_meet_are_not() -> None:
    assert (
        kept([reading(0, 3), reading(3, 5), reading(4, 6), reading(6, 7)])
        == [(0, 3), (3, 5), (6, 7)]
    )
    assert kept([reading(2, 4), reading(0, 3), reading(0, 2), reading(1, 5)]) == [(2, 4), (0, 2)]


def test_what_is_known_to_be_taken_is_what_all_accepted_readings_take() -> None:
    nothing = cast("Any", None)
    search = _Search(b"", nothing, nothing, nothing, frozenset(), frozenset(), {}, {}, [], [])
    steps = [[reading(0, 2)], [reading(4, 6)], [reading(3, 9, "lines")], [reading(8, 10)], []]
    for accepted in steps:
        search.accepted += accepted
        for more in ([], [reading(1, 3)], [reading(0, 4, "lines")]):
            assert search._changes(more) == taken_by([*search.accepted, *more]).changes
    assert search.settled == 4
