"""Cells set in columns: what neighbouring lines have in common begins at one column.

A *run* is a number of lines that follow each other without a blank line, each a whole item of one
sequence, with cells of the same sort. Where a line would pass the width, the cells are left where
they are in all lines of the run. The spaces before cells are decided anew each time, so that
columns go when they are no longer asked for. Where the author's columns count, a run is what stands
at one column in the source; beside lines that stay as they are, cells are set at the column of these.
"""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import field
from itertools import groupby
from typing import NamedTuple

from stilo.layout.fit import Fitted
from stilo.layout.kept import Kept
from stilo.layout.plan import Plan
from stilo.records import dataclass
from stilo.sheet.cascade import Declared
from stilo.width import display_width


class _Line(NamedTuple):
    """A line: its first token, the one after its last, its cells by token, and their sorts."""

    begin: int
    end: int
    cells: list[int]
    sorts: list[object]


def set_in_columns(
    plan: Plan,
    fitted: Fitted,
    gaps: list[bytes],
    tokens: Sequence[bytes],
    width: int,
    tab: int,
    kept: Kept,
) -> set[int]:
    """Widen the gaps before cells in place. Returns the tokens whose gaps belong to a column.

    tokens: as they are written. tab: columns that a tab takes in the source. kept: what stays as it is.
    """
    data = plan.tree.data
    rows = plan.rows
    if (
        not rows.has_cells
        or not (rows.has_columns or rows.has_close_cells or b"  " in data or b"\t" in data)
    ):
        return set()
    work = _Aligner(plan, fitted, gaps, tokens, width, tab, kept)
    # Comments stand after the code, so its columns come first.
    for cells, in_items in ((work.cells_inside(), True), (work.cells_behind(), False)):
        if cells:
            for run in _runs(plan, fitted, gaps, cells, in_items):
                work.align(run)
    return work.aligned


def _set_apart(plan: Plan, gaps: Sequence[bytes], cells: list[int]) -> list[int]:
    """Those of some cells whose lines have one that shares a column of the source with a cell that more
    stands before than it gets. All of a line, since cells are compared by their number in it.

    All cells, where columns are told by more than bytes.
    """
    tree = plan.tree
    data, starts, ends = tree.data, tree.token_start, tree.token_end
    if plan.rows.has_columns or b"\t" in data:
        return cells
    wide = {t for t in cells if starts[t] - ends[t - 1] > len(gaps[t])}
    if not wide:
        return []
    lines = [data.rfind(b"\n", 0, starts[t]) + 1 for t in cells]
    columns = [_columns(data[line:starts[t]]) for line, t in zip(lines, cells)]
    sought = {column for column, token in zip(columns, cells) if token in wide}
    found = {line for line, column in zip(lines, columns) if column in sought}
    return [token for token, line in zip(cells, lines) if line in found]


def _runs(
    plan: Plan, fitted: Fitted, gaps: list[bytes], cells: list[int], in_items: bool
) -> Iterator[list[_Line]]:
    """Several lines with cells that follow each other. in_items: each is an item of one sequence."""
    owner = _owners(plan) if in_items else {}
    home_of = _homes(plan, owner) if in_items else {}
    begins = [0, *sorted(token for token in fitted.breaks if token)]
    by_line: dict[int, list[int]] = {}
    for token in cells:
        by_line.setdefault(bisect_right(begins, token) - 1, []).append(token)
    multi = sorted(plan.measured.multi.keys() - plan.trailing) if plan.measured else []
    run: list[_Line] = []
    latest, home = -2, (-1, -1)
    for number, found in by_line.items():
        begin = begins[number]
        end = begins[number + 1] if number + 1 < len(begins) else len(plan.space)
        this = (home_of.get(begin, 0), fitted.breaks.get(begin, 0))
        is_whole = (
            bisect_left(multi, begin) == bisect_left(multi, end)
            and (
                not in_items
                or this[0] == owner.get(end)
                or _ends_item(plan, owner.get(end, 0), begin)
            )
        )
        is_next = number == latest + 1 and this == home and gaps[begin].count(b"\n") == 1
        if run and not (is_next and is_whole):
            if len(run) > 1:
                yield run
            run = []
        if is_whole:
            run.append(_Line(begin, end, found, [cell_declared(plan, t).source for t in found]))
            latest, home = number, this
    yield run


def _owners(plan: Plan) -> dict[int, int]:
    """Per gap of a sequence, and for the begin of the file, the number of the group."""
    owner = {token: number for number, group in enumerate(plan.groups) for token in group.gaps}
    # The first item of the file begins no gap of the sequence that it is an item of.
    owner[0] = next((n for n, group in enumerate(plan.groups) if n and group.node == 0), 0)
    return owner


def _homes(plan: Plan, owner: Mapping[int, int]) -> dict[int, int]:
    """The same, and per first item of what nothing opens, which begins no gap of its own sequence."""
    firsts = {group.first: number for number, group in enumerate(plan.groups) if group.is_unopened}
    return {**owner, **firsts}


def _ends_item(plan: Plan, number: int, begin: int) -> bool:
    """Whether a line ends with its item, given the sequence that the next line break belongs to."""
    group = plan.groups[number]
    return number == 0 or not begin or group.first < begin or begin in group.gaps


def cell_declared(plan: Plan, token: int) -> Declared:
    """What makes a token begin a cell: for a comment after code its own rule."""
    row = plan.row[plan.tree.token_node[token]] if token in plan.trailing else plan.gap_row[token]
    return plan.rows.style[row]["column"]


@dataclass(frozen=True)
class _Aligner:
    """Sets the cells of runs in columns. aligned: the tokens whose gaps belong to one. The rest as given to
    `set_in_columns`.
    """

    plan: Plan
    fitted: Fitted
    gaps: list[bytes]
    tokens: Sequence[bytes]
    width: int
    tab: int
    kept: Kept
    aligned: set[int] = field(default_factory=set)

    def cells_inside(self) -> list[int]:
        """The tokens of code that begin a cell."""
        plan, comments = self.plan, self.plan.comment_set
        out = self.fitted.breaks.keys() | plan.tight.keys()
        is_cell, gap_row = plan.rows.cell, plan.gap_row
        cells = [t for t in plan.notable if is_cell[gap_row[t]] and t not in out]
        found = _set_apart(plan, self.gaps, cells)
        return [token for token in found if token not in comments]

    def cells_behind(self) -> list[int]:
        """The comments after code that begin a cell."""
        plan = self.plan
        is_cell, row, leaf = plan.rows.cell, plan.row, plan.tree.token_node
        cells = sorted(token for token in plan.trailing if is_cell[row[leaf[token]]])
        return _set_apart(plan, self.gaps, cells)

    def _is_authored(self, token: int) -> bool:
        return cell_declared(self.plan, token).value == "authored"

    def _extra(self, token: int) -> int:
        """How many spaces more stand before a cell in the source than it gets; -1: a line end."""
        gap = self.plan.tree.between(token)
        return -1 if b"\n" in gap else len(gap.expandtabs(self.tab)) - len(self.gaps[token])

    def align(self, run: list[_Line]) -> None:
        """Set the cells of a run in columns, from the first of each line on."""
        todo = [(run, 0)]
        while todo:
            run, index = todo.pop()
            for sort, some in groupby(run, lambda line: line.sorts[index : index + 1]):
                lines = list(some)
                if len(lines) < 2 or not sort:
                    continue
                self._set_cells(lines, index)
                todo.append((lines, index + 1))

    def _set_cells(self, lines: list[_Line], index: int) -> None:
        """Set one cell of each line, or of those whose author set it at one column."""
        if not self._is_authored(lines[0].cells[index]):
            self._set(lines, index)
            return
        for _, same in groupby(lines, lambda line: self._column_of(line, index)):
            beside = list(same)
            extra = [self._extra(line.cells[index]) for line in beside]
            if min(extra) >= 0 < max(extra):
                self._set(beside, index)

    def _column_of(self, line: _Line, index: int) -> int:
        """The column of a cell in the source; one that no other has if its line keeps its margin, but not its gap."""
        cell, stays = line.cells[index], self.kept.gaps
        if line.begin in stays and cell not in stays:
            return -1 - cell
        return self._source_column(cell)

    def _set(self, lines: list[_Line], index: int) -> None:
        """Set one cell of each line at one column, that of those that stay if they have one, and none passes the width so."""
        gaps, tokens, stays = self.gaps, self.tokens, self.kept.gaps
        fixed = [line.cells[index] for line in lines if line.cells[index] in stays]
        lines = [line for line in lines if line.cells[index] not in stays]
        if len(lines) + len(fixed) < 2 or not lines:
            return
        cells = [line.cells[index] for line in lines]
        indent = self.fitted.breaks.get(lines[0].begin, 0)
        at = [reach(tokens, gaps, line.begin, c) + len(gaps[c]) for line, c in zip(lines, cells)]
        columns = {self._source_column(cell) - indent for cell in fixed} or {max(at)}
        if len(columns) > 1:
            return
        (column,) = columns
        # A comment after the code does not count, unless it is what is set.
        ends = [
            line.end - (line.end - 1 in self.plan.trailing and line.end - 1 != cell)
            for line, cell in zip(lines, cells)
        ]
        is_free = self.plan.rows.style[self.plan.gap_row[cells[0]]]["past-width"].value == "yes"
        passes = (
            not is_free
            and any(
                indent + reach(tokens, gaps, line.begin, end) + column - a > self.width
                for line, end, a, cell in zip(lines, ends, at, cells)
                if a < column and not self._is_as_far(cell, indent + column)
            )
        )
        if not passes and column >= max(at):
            for cell, a in zip(cells, at):
                gaps[cell] += b" " * (column - a)
            self.aligned.update(cells)

    def _is_as_far(self, token: int, column: int) -> bool:
        """Whether a comment stood as far to the right already, where its author aligned it."""
        is_comment = token in self.plan.trailing and self._is_authored(token)
        return is_comment and column <= self._source_column(token)

    def _source_column(self, token: int) -> int:
        """The column at which a token begins in the source."""
        tree = self.plan.tree
        start = tree.token_start[token]
        line = tree.data[tree.data.rfind(b"\n", 0, start) + 1 : start]
        return _columns(line.expandtabs(self.tab))


def reach(tokens: Sequence[bytes], gaps: list[bytes], begin: int, end: int) -> int:
    """Columns from where a line begins to the end of the token before another."""
    return sum(map(_columns, tokens[begin:end])) + sum(map(len, gaps[begin + 1 : end]))


def _columns(text: bytes) -> int:
    """The width of a text's first line."""
    text = text.partition(b"\n")[0]
    return len(text) if text.isascii() else display_width(text.decode())
