"""The ways to open a sequence at a place: of each, the gaps that break together, and what it costs beside.

How wide things are decides which ways there are: the rows that an author gave a list count where each of them fits,
and what fills its lines takes as many items for each as fit there.
"""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Sequence, Set
from functools import cached_property

from stilo.layout.alternatives import Way, delimiters, may_share, ways_to_stack
from stilo.layout.gaps import CLOSE, MID, OPEN
from stilo.layout.groups import Group
from stilo.layout.indents import Indents, close_breaks
from stilo.layout.measures import Measures


#: What it costs, beside a sequence's own cost, to part terms as their author has them.
PREFERRED = -1


class Interrupted:
    """What interrupts the lines of a stretch of text, all in order.

    multi: the tokens that hold line ends. loose: those that begin lines about which no sequence decides. certain: the
    first gaps of groups that are surely opened.
    """

    def __init__(self, multi: list[int], loose: list[int], certain: list[int]) -> None:
        self.multi, self.loose, self.certain = multi, loose, certain

    def within(self, begin: int, end: int) -> Interrupted:
        """What does between two tokens."""
        return Interrupted(
            between(self.multi, begin, end),
            between(self.loose, begin, end),
            between(self.certain, begin, end),
        )

    def cuts(self, begin: int, end: int) -> bool:
        """Whether the text from a token to another has more than one line, whatever is opened in it."""
        multi, loose = self.multi, self.loose
        return bool(
            multi and any_between(multi, begin, end) or loose and any_between(loose, begin + 1, end)
        )

    def next_line(self, begin: int, end: int) -> int:
        """The first token from one on that surely begins a line, or `end`, if none before that does."""
        for tokens in (self.loose, self.certain):
            if tokens:
                at = bisect_left(tokens, begin)
                if at < len(tokens) and tokens[at] < end:
                    end = tokens[at]
        return end


class Ways:
    """Finds the ways to open the groups of a plan.

    starts, ends: the columns of all tokens if they stood on one line. gone: separators after last items that are not
    to stay. interrupted: what interrupts the lines of the segment at hand.
    """

    def __init__(
        self, indents: Indents, starts: list[int], ends: list[int], gone: Set[int]
    ) -> None:
        self.plan = indents.plan
        self.groups = self.plan.groups
        self.indents = indents
        self.starts, self.ends = starts, ends
        self.gone = gone
        self.interrupted = Interrupted([], [], [])
        self._stacked: dict[int, list[Way]] = {}

    def go_by(self, measures: Measures) -> None:
        """Find them by these measures from here on."""
        self.limit = measures.width
        self.is_airy, self.is_dense = measures.density == "airy", measures.density == "dense"

    def forget(self) -> None:
        """Find them anew, since separators have gone."""
        self._stacked.clear()

    def of(self, number: int, column: int, indent: int, rest: int) -> Sequence[Way]:
        """The ways to open the group of a number.

        column: at which it begins. indent: from which its lines count. rest: the columns that follow it on its last line.
        """
        group = self.groups[number]
        ways = self._plain_ways(number, column, indent, rest)
        if group.aligned is not None and group.parts[0] == OPEN:
            # The others stay: a second run, for which fewer lists are aligned, has no more ways than this one.
            return [*self.by_rows(number, column, indent, rest), *ways]
        if group.rows is not None and group.parts[0] != OPEN:
            rows = self._rows(group, column, indent, rest)
            if rows is not None:
                return [(PREFERRED, rows[1]), *ways]
        return ways

    def by_rows(self, number: int, column: int, indent: int, rest: int) -> Sequence[Way]:
        """The way that keeps the lines which an author set under the first item of a group; it costs these alone.

        None for any other group, nor where one of the lines does not fit, unless the group surely opens.
        """
        group = self.groups[number]
        if group.aligned is None:
            return []
        rows = group.aligned
        if not any(self.groups[n].hard for n in group.inner) and self._is_overlong(group):
            rows = self._flow(group, column, indent, rest, [], [], True)
        if not rows or not (group.must_open or self._fits_under(group, rows, column, rest)):
            return []
        return [(-int(group.style["cost"].value), [*rows])]

    def _plain_ways(self, number: int, column: int, indent: int, rest: int) -> Sequence[Way]:
        """The ways for a group, whether or not its author set its lines under the first item, or parted its terms."""
        group = self.groups[number]
        is_list = group.parts[0] == OPEN
        rows = (
            self._rows(group, column, indent, rest) if is_list and group.rows is not None else None
        )
        if rows is not None and group.gaps[0] in group.forced:  # its author opened it
            return [rows]
        if self._flows(group):
            return self._ways_to_flow(group, column, indent, rest)
        if number not in self._stacked:
            self._stacked[number] = ways_to_stack(self.plan, group, self.is_airy, self.gone)
        ways = self._stacked[number]
        # Its author had items share lines: any in a call, if they fit; in a literal simple ones, which may be filled anew.
        is_call = group.style["authored"].value == "stack"
        keeps_rows = rows is not None if is_call else not group.inner
        if is_list and group.rows is not None and keeps_rows:
            shelves = [way for way in ways if makes_shelf(group, way[1])]
            filled = self._ways_to_flow(group, column, indent, rest) if rows is None else [rows]
            return shelves + filled
        if self.is_dense and group.wrap == "stack" and not group.bulky and not group.stacked:
            filled = self._ways_to_flow(group, column, indent, rest)
            if any(self.groups[n].hard for n in group.inner):
                filled = [way for way in filled if not makes_shelf(group, way[1])]
            return ways + filled
        if group.style["inner-line"].value == "two" and not self.is_airy:
            return ways + self._ways_with_two_lines(group, column, indent, rest)
        return ways

    def _flows(self, group: Group) -> bool:
        """Whether the items of an opened sequence fill their lines."""
        if group.wrap != "flow" or self.is_airy and group.style["wrap"].value == "flow":
            return False
        # Once it is opened, its author may be said to have opened it; then such items do not flow.
        is_stacked = group.bulky and group.forced <= self.plan.asked
        return not (is_stacked and group.style["authored"].value != "no")

    def _rows(self, group: Group, column: int, indent: int, rest: int) -> Way | None:
        """The rows that the author of a list gave it, if each fits; None if not.

        A row of one item may run over several lines, as the item would anywhere.
        """
        starts, ends = self.starts, self.ends
        opening, closing = next((pair for pair in delimiters(group) if pair[0]), ([], []))
        if not opening and group.parts[0] == OPEN:
            return None
        inner = self.inner_column(group, column, indent, bool(opening))
        hard = sorted(t for n in group.inner if self.groups[n].hard for t in self.groups[n].gaps)
        first = opening[0] if opening else group.first
        bounds = [first, *(group.rows or ()), closing[0] if closing else group.end]
        for begin, stop in zip(bounds, bounds[1:]):
            at = bisect_right(group.gaps, begin)
            if at == len(group.gaps) or group.gaps[at] >= stop or group.parts[at] != MID:
                continue
            after = rest if stop == group.end else self.plan.room(stop)
            at_column = inner if opening or begin != first else column
            if (
                at_column + ends[stop - 1] - starts[begin] + after > self.limit
                or any_between(hard, begin, stop)
                or self.interrupted.cuts(begin, stop)
            ):
                return None
        return 0, [*opening, *(group.rows or ()), *closing]

    def _is_overlong(self, group: Group) -> bool:
        """Whether a row that the author set under the first item of a list is too long where it stands.

        What is to be kept then is only that it stands there; so its rows are not looked at, wherever it goes.
        """
        tree, bounds = self.plan.tree, self._bounds(group, group.aligned or ())
        column = tree.column(bounds[0], tree.stand_alike(bounds[:-1], self.plan.tabs))
        for begin, stop in zip(bounds, bounds[1:]):
            kid = self._kept_within(group, begin, stop)
            end = stop if kid < 0 else self._first_line(kid)
            if column + self.ends[end - 1] - self.starts[begin] > self.limit:
                return True
        return False

    def _kept_within(self, group: Group, begin: int, stop: int) -> int:
        """The number of the sequence in a row of a group that stays as its author opened it, or -1."""
        groups = self.groups
        at = bisect_left(group.inner, stop, key=lambda number: groups[number].first)
        while at and groups[group.inner[at - 1]].first >= begin:
            at -= 1
            if groups[group.inner[at]].is_as_authored:
                return group.inner[at]
        return -1

    def _first_line(self, number: int) -> int:
        """The token that begins the second line of a sequence as its author opened it. number: of that."""
        group = self.groups[number]
        if group.aligned is not None:
            return group.aligned[0]
        return next(self._first_line(n) for n in group.inner if self.groups[n].is_as_authored)

    def _fits_as_authored(self, number: int, column: int, rest: int) -> bool:
        """Whether a sequence fits as its author opened it. The arguments are those of `of`."""
        group = self.groups[number]
        if group.aligned is not None:
            return bool(self.by_rows(number, column, column, rest))
        for kid in group.inner:
            inner = self.groups[kid]
            if inner.is_as_authored:
                at = column + self.starts[inner.first] - self.starts[group.first]
                after = self.ends[group.end - 1] - self.ends[inner.end - 1] + rest
                return self._fits_as_authored(kid, at, after)
        return True

    def _bounds(self, group: Group, rows: Sequence[int]) -> list[int]:
        """Where rows of items under the first one begin, and where the last one ends."""
        last = group.gaps[-1] if group.parts[-1] == CLOSE else group.end
        return [group.gaps[0] if group.parts[0] == OPEN else group.first, *rows, last]

    def _fits_under(self, group: Group, rows: Sequence[int], column: int, rest: int) -> bool:
        """Whether each of some rows of a list fits under its first item.

        Where a sequence surely opens in a row, or as its author opened it, what stands before that has to fit.
        """
        starts, ends = self.starts, self.ends
        inner = self.inner_column(group, column, column, False, True)
        lines = sorted(self.groups[n].gaps[0] for n in group.inner if self.groups[n].hard)
        bounds, is_same = self._bounds(group, rows), rows == group.aligned
        last = bounds[-1]
        for begin, stop in zip(bounds, bounds[1:]):
            is_last = stop == last
            after = ends[group.end - 1] - ends[stop - 1] + rest if is_last else self.plan.room(stop)
            at = bisect_left(lines, begin)
            kid = self._kept_within(group, begin, stop) if is_same else -1
            if at < len(lines) and lines[at] < stop:
                stop, after = lines[at], 0
            elif self.interrupted.cuts(begin, stop):
                return False
            elif kid >= 0 and inner + ends[stop - 1] - starts[begin] > self.limit:
                more, kept = after + ends[stop - 1], self.groups[kid]
                at_column = inner + starts[kept.first] - starts[begin]
                if not self._fits_as_authored(kid, at_column, more - ends[kept.end - 1]):
                    return False
                stop, after = self._first_line(kid), 0
            if inner + ends[stop - 1] - starts[begin] + after > self.limit:
                return False
        return True

    def _ways_to_flow(self, group: Group, column: int, indent: int, rest: int) -> list[Way]:
        """The gaps that may be broken together so that lines take as many items as fit.

        The last line holds all that follows on it, or no more than what stands before the next gap of a
        sequence, which may be opened instead.
        """
        ways: list[Way] = []
        least = min(rest, self._rest_to_gap(group.end))
        for opening, closing in delimiters(group):
            for room in dict.fromkeys((rest, least)):
                flowed = self._flow(group, column, indent, room, opening, closing)
                way = 0, [*opening, *flowed, *closing]
                if way not in ways:
                    ways.append(way)
        return ways

    def _ways_with_two_lines(self, group: Group, column: int, indent: int, rest: int) -> list[Way]:
        """The way in which the items fill two lines of their own, if they fit there and none is opened."""
        opening, closing = next((pair for pair in delimiters(group) if pair[0]), ([], []))
        if not (opening and may_share(self.plan, group, self.gone)):
            return []
        flowed = self._flow(group, column, indent, rest, opening, closing)
        if not flowed:
            return []
        inner = self.inner_column(group, column, indent, True)
        bounds = [opening[0], flowed[0], closing[0] if closing else group.end]
        for begin, stop in zip(bounds, bounds[1:]):
            after = rest if stop == group.end else self.plan.room(stop)
            if inner + self.ends[stop - 1] - self.starts[begin] + after > self.limit:
                return []
        return [(0, [*opening, *flowed, *closing])]

    def _rest_to_gap(self, token: int) -> int:
        """Columns from the end of the token before to the next gap that a sequence may break."""
        return self.ends[self.next_gap(token) - 1] - self.ends[token - 1]

    def next_gap(self, token: int) -> int:
        """The next gap from a token on that a sequence may break, or the end of all."""
        at = bisect_left(self._all_gaps, token)
        return self._all_gaps[at] if at < len(self._all_gaps) else len(self.ends)

    @cached_property
    def _all_gaps(self) -> list[int]:
        """The gaps of all sequences, in order."""
        return sorted({gap for group in self.groups for gap in group.gaps})

    def _flow(
        self,
        group: Group,
        column: int,
        indent: int,
        rest: int,
        opening: list[int],
        closing: list[int],
        as_authored: bool = False,
    ) -> list[int]:
        """The gaps to break so that each line takes as many items as fit."""
        starts, ends, limit = self.starts, self.ends, self.limit
        inner = self.inner_column(group, column, indent, bool(opening), as_authored)
        gaps = [t for t, p in zip(group.gaps, group.parts) if p == MID]
        first = opening[0] if opening else group.first
        bounds = [first, *gaps, closing[0] if closing else group.end]
        broken: list[int] = []
        at = inner if opening else column
        mark = starts[first]
        full = False
        hard_at = self._hard_tokens(group)
        rest += self.room_of_bracket(group)
        for i, token in enumerate(bounds[:-1]):
            stop = bounds[i + 1]
            after = rest if stop == group.end else self.plan.room(stop)
            fits = at + ends[stop - 1] - mark + after <= limit
            if (
                i
                and (
                    token in group.forced
                    or full
                    or not fits
                    or self._has_remark(group, token, stop)
                )
            ):
                broken.append(token)
                at, mark = inner, starts[token]
            if not fits and at == inner and at + ends[stop - 1] - mark > limit:
                at, mark = self._last_line(group, token, stop, at, mark)
            at += ends[stop - 1] - mark
            mark = ends[stop - 1]
            full = bool(hard_at) and any_between(hard_at, token + 1, stop)
        return broken

    def _last_line(
        self, group: Group, begin: int, end: int, column: int, mark: int
    ) -> tuple[int, int]:
        """Where the last line of an item of a text begins, if a sequence in it is opened for certain.

        A text is a sequence without delimiters, all parts of which may open in place. column: at which the item
        begins, and mark: where its text does, both of which are the answer in all other cases.
        """
        inner = group.inner
        at = bisect_left(inner, end, key=self._first_of) - 1
        is_text = group.parts[0] != OPEN and group.style["grant"].value == "all"
        if not is_text or at < 0 or self.groups[inner[at]].first < begin:
            return column, mark
        last = self.groups[inner[at]]
        if last.parts[-1] != CLOSE or last.end > end:
            return column, mark
        if close_breaks(last, last.gaps[-1]):
            return column, self.starts[last.gaps[-1]]
        if last.wrap == "stack" and last.style["open"].value == "new-line":
            return self.indents.content(last, column), self.starts[last.gaps[-2]]
        return column, mark

    def _first_of(self, number: int) -> int:
        return self.groups[number].first

    def _has_remark(self, group: Group, begin: int, end: int) -> bool:
        """Whether a comment follows an item on its line, which then speaks of this item alone."""
        comments = self.plan.comments
        if end not in group.forced or not comments:
            return False
        found = comments[bisect_left(comments, begin):bisect_left(comments, end)]
        return not self.plan.trailing.isdisjoint(found)

    def _hard_tokens(self, group: Group) -> list[int]:
        if not group.bulky:
            return []
        return sorted(t for n in group.inner if self.groups[n].bulky for t in self.groups[n].gaps)

    def inner_column(
        self, group: Group, column: int, indent: int, opened: bool, as_authored: bool = False
    ) -> int:
        """The column at which the lines of a group begin.

        opened: its opening delimiter ends a line. as_authored: its author set these lines under the first item.
        """
        is_beside = group.style["open"].value == "beside" or group.style["align"].value == "yes"
        if group.aligned is not None and (as_authored or group.parts[0] == OPEN):
            is_beside = True
        if opened or group.hanging or not is_beside:
            return self.indents.content(group, indent)
        if group.parts[0] == OPEN:
            return column + self.starts[group.gaps[0]] - self.starts[group.first]
        return column

    def room_of_bracket(self, group: Group) -> int:
        """Columns that the closing bracket takes which a group gets, with the space before it."""
        tree, rows = self.plan.tree, self.plan.rows
        if not group.own or group.opening in tree.firm or rows.own_brackets is None:
            return 0
        closing = tree.soft[group.opening]
        home = tree.kind[tree.parent[tree.token_node[closing]]]
        is_listed = home in rows.own_brackets.listed.values()
        return 1 + (rows.space[self.plan.gap_row[closing]] if is_listed else 0)


def is_aligned(group: Group) -> bool:
    """Whether the lines of a group may be set under its first item."""
    return group.style["align"].value == "yes" or group.aligned is not None


def makes_shelf(group: Group, broken: Sequence[int]) -> bool:
    """Whether items share a line of their own where these gaps of a group are broken."""
    if MID not in group.parts or group.parts[0] != OPEN or broken[:1] != group.gaps[:1]:
        return False
    return not broken[1:] or group.parts[-1] == CLOSE and broken[1:] == group.gaps[-1:]


def between(tokens: list[int], begin: int, end: int) -> list[int]:
    """Those of some tokens, in order, that lie between two."""
    return tokens[bisect_left(tokens, begin):bisect_left(tokens, end)]


def any_between(tokens: list[int], begin: int, end: int) -> bool:
    """Whether one of some tokens, in order, lies between two."""
    at = bisect_left(tokens, begin)
    return at < len(tokens) and tokens[at] < end
