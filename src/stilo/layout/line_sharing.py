"""Statements that share a line: those that their author set after each other, if they fit there."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

from stilo.layout.comments import Event
from stilo.layout.gaps import NONE
from stilo.layout.match import Matched
from stilo.layout.measures import Measured, Measures
from stilo.layout.plan import Plan


def keep_shared_lines(
    plan: Plan,
    matched: Matched,
    events: dict[int, Event],
    measured: Measured,
    content: Sequence[int],
    measures: Measures,
) -> None:
    """Note in `events` each gap between statements that stays without a line end.

    content: the column of the lines of each seed that is sure. A run of statements shares its line only as a whole, and
    only where nothing else in it would end a line.
    """
    rows, tree = plan.rows, plan.tree
    sharing = {
        token
        for token in plan.notable
        if rows.shares[plan.gap_row[token]]
            and token
            and token not in events
            and b"\n" not in tree.between(token)
    }
    firm = [t for t in plan.notable if t and rows.firm[plan.gap_row[t]]]
    ends = sorted({0, *firm, *events, len(plan.gap_row)} - sharing | set(measured.multi))
    for begin, behind in pairwise(ends):
        run = [token for token in range(begin + 1, behind) if token in sharing]
        if not run or begin in measured.multi:
            continue
        first, last = tree.gap_right(run[0]), tree.gap_right(run[-1])
        home = tree.parent[first]
        is_whole = begin == tree.first(home) or tree.parent[tree.gap_right(begin)] == home
        number = matched.owner(tree, first, plan.gap(run[0]))
        end = (
            _column(plan, matched, content, measures, number)
            + measured.ends[behind - 1]
            - measured.starts[begin]
        )
        end += sum(len(tree.texts[token - 1]) for token in run)  # signs that are measured as gone
        if is_whole and tree.last(last) < behind and end <= measures.width:
            for token in run:
                events[token] = Event(NONE, False, 0, number, False)


def _column(
    plan: Plan, matched: Matched, content: Sequence[int], measures: Measures, number: int
) -> int:
    """The column of the lines of a seed, once they do not stand on the line of its header."""
    steps = 0
    while number and not matched.clear[number]:
        seed = matched.seeds[number]
        steps += measures.step(plan.rows.style[seed.row], seed.hanging)
        number = seed.around
    return content[number] + steps
