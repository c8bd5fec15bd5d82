"""Cells set in columns: what neighbouring lines have in common begins at one column.

A *run* is a number of lines that follow each other without a blank line, each a whole item of one
sequence, with cells of the same sort. Where a line would pass the width, the cells are left where
they are in all lines of the run. The spaces before cells are decided anew each time, so that
columns go when they are no longer asked for.
"""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Iterator, Sequence
from itertools import compress, count, groupby
from typing import NamedTuple

from stilo.layout.fit import Fitted
from stilo.layout.kept import Kept
from stilo.layout.plan import Plan
from stilo.sheet.cascade import Declared
from stilo.width import display_width


class _Line(NamedTuple):
    """A line: its first token, the one after its last, its cells by token, and their sorts."""

    begin: int
    end: int
    cells: list[int]
    sorts: list[object]


def set_in_columns(
    plan: Plan, fitted: Fitted, gaps: list[bytes], tokens: Sequence[bytes], width: int, kept: Kept
) -> set[int]:
    """Widen the gaps before cells in place. Returns the tokens whose gaps belong to a column.

    tokens: as they are written. kept: what stays as it is.
    """
    if not plan.rows.has_cells:
        return set()
    is_cell, row, leaf = plan.rows.cell, plan.row, plan.tree.token_node
    comments = set(plan.comments)
    inside = [
        token
        for token in compress(count(), map(is_cell.__getitem__, plan.gap_row))
        if token not in comments and token not in fitted.breaks and token not in kept.gaps
    ]
    behind = [
        token
        for token in sorted(plan.trailing)
        if is_cell[row[leaf[token]]] and token not in kept.gaps
    ]
    aligned: set[int] = set()
    if inside or behind:
        # Comments stand after the code, so its columns come first.
        for cells, in_items in ((inside, True), (behind, False)):
            for run in _runs(plan, fitted, gaps, cells, in_items):
                _align(plan, fitted, gaps, tokens, run, 0, width, aligned)
    return aligned


def _runs(
    plan: Plan, fitted: Fitted, gaps: list[bytes], cells: list[int], in_items: bool
) -> Iterator[list[_Line]]:
    """Lines with cells that follow each other. in_items: each is an item of one sequence."""
    owner = {token: number for number, group in enumerate(plan.groups) for token in group.gaps}
    # The first item of the file begins no gap of the sequence that it is an item of.
    owner[0] = next((n for n, group in enumerate(plan.groups) if n and group.node == 0), 0)
    begins = [0, *sorted(token for token in fitted.breaks if token)]
    by_line: dict[int, list[int]] = {}
    for token in cells:
        by_line.setdefault(bisect_right(begins, token) - 1, []).append(token)
    multi = sorted(plan.measured.multi) if plan.measured else []
    run: list[_Line] = []
    latest, home = -2, (-1, -1)
    for number, found in by_line.items():
        begin = begins[number]
        end = begins[number + 1] if number + 1 < len(begins) else len(plan.space)
        this = (owner.get(begin, 0) if in_items else 0, fitted.breaks.get(begin, 0))
        is_whole = (
            bisect_left(multi, begin) == bisect_left(multi, end)
            and (not in_items or _ends_item(plan, owner.get(end, 0), begin))
        )
        is_next = number == latest + 1 and this == home and gaps[begin].count(b"\n") == 1
        if run and not (is_next and is_whole):
            yield run
            run = []
        if is_whole:
            run.append(_Line(begin, end, found, [cell_declared(plan, t).source for t in found]))
            latest, home = number, this
    yield run


def _ends_item(plan: Plan, number: int, begin: int) -> bool:
    """Whether a line ends with its item, given the sequence that the next line break belongs to."""
    group = plan.groups[number]
    return number == 0 or not begin or group.first < begin or begin in group.gaps


def cell_declared(plan: Plan, token: int) -> Declared:
    """What makes a token begin a cell: for a comment after code its own rule."""
    row = plan.row[plan.tree.token_node[token]] if token in plan.trailing else plan.gap_row[token]
    return plan.rows.style[row]["column"]


def _align(
    plan: Plan,
    fitted: Fitted,
    gaps: list[bytes],
    tokens: Sequence[bytes],
    run: list[_Line],
    index: int,
    width: int,
    aligned: set[int],
) -> None:
    """Set the cells of a run in columns, from the one with this index on."""
    for sort, some in groupby(run, lambda line: line.sorts[index : index + 1]):
        lines = list(some)
        if len(lines) < 2 or not sort:
            continue
        cells = [line.cells[index] for line in lines]
        indent = fitted.breaks.get(lines[0].begin, 0)
        at = [_reach(tokens, gaps, line.begin, c) + len(gaps[c]) for line, c in zip(lines, cells)]
        column = max(at)
        # A comment after the code does not count, unless it is what is set.
        ends = [
            line.end - (line.end - 1 in plan.trailing and line.end - 1 != cell)
            for line, cell in zip(lines, cells)
        ]
        passes = any(
            indent + _reach(tokens, gaps, line.begin, end) + column - a > width
            for line, end, a in zip(lines, ends, at)
            if a < column
        )
        if not passes:
            for cell, a in zip(cells, at):
                gaps[cell] += b" " * (column - a)
            aligned.update(cells)
        _align(plan, fitted, gaps, tokens, lines, index + 1, width, aligned)


def _reach(tokens: Sequence[bytes], gaps: list[bytes], begin: int, end: int) -> int:
    """Columns from where a line begins to the end of the token before another."""
    widths = (
        len(text) if text.isascii() else display_width(text.decode())
        for text in tokens[begin:end]
    )
    return sum(widths) + sum(map(len, gaps[begin + 1 : end]))
