"""Line fitting: which gaps become line ends, and where the next line begins.

What fits on its line is done. Of what does not, an outer sequence opens before
one inside it, save where the sheet lets a part open in place (`cling`,
`grant`); among what is permitted so, the least cost is found exactly: columns
past the width first, then the declared costs, then lines. (In a dense layout a
line costs as much as one declared cost, and items fill lines. In an airy one
neither items nor operands share a line, and a list that stays closed around what
opens costs more.) Costs are memoised by (sequence, column, indent); a driver with
a stack of its own takes the place of recursion, so depth breaks nothing.

The result of fitting a part is a *frontier*: for each column at which its last
line may end, the least cost with that end. Columns past the width are charged
as soon as they are passed, and all such ends are one, which keeps frontiers
small (not where some lines are aligned: those need to know the column).
"""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Generator, Mapping, Sequence, Set
from dataclasses import field
from functools import cached_property

from stilo.layout.alternatives import BROKEN_FIRST, may_open, may_open_among
from stilo.layout.authored import opens_in_place
from stilo.layout.frontier import (
    LINE, OVERFLOW, PENALTY, Frontier, Rope, breaks_in, charged, cheapest, cheapest_ends, offer,
    shifted
)
from stilo.layout.gaps import CLOSE, MID, OPEN
from stilo.layout.groups import Group
from stilo.layout.indents import Indents, fixed_lines
from stilo.layout.measures import Measures
from stilo.layout.nesting import opens_late
from stilo.layout.plan import Margin, Plan
from stilo.layout.ways import Interrupted, Ways, any_between, is_aligned, makes_shelf
from stilo.records import dataclass

#: In an airy layout, what a list costs more that stays closed around something that opens.
AIRY_HOLD = 4

#: What it costs to break a chain before its link while the list around it stays closed.
TORN = 20

# What interrupts a run of tokens: a new line before a token, a sequence that may open, a token
# that holds line ends. In this order where they meet.
_BREAK, _KID, _LINES = range(3)

#: What is asked: a sequence, its column, the indent that its lines count from, that of the line it
#: stands on, and the columns that follow it on its last line. A sequence is named by the number of its group; by
#: this and the number of all groups if it has no brackets around it, since those that may come stay away.
_Asked = tuple[int, int, int, int, int]
_Task = Generator[_Asked, Frontier, Frontier]


@dataclass(frozen=True)
class Fitted:
    """Per broken gap (by the token after it), the column at which its line begins.

    cuts: the gaps that were known to break before measuring, in order. gone: separators after last items
    that go, since their lists are not opened in a statement that is. margins: of lines in blocks that
    keep their own.
    """

    breaks: dict[int, int]
    cuts: list[int]
    gone: Set[int] = frozenset()
    margins: Mapping[int, Margin] = field(default_factory=dict)


def fit(plan: Plan, measures: Measures) -> Fitted:
    """Decide all line ends of a plan."""
    return _Fitter(plan, measures).run()


#: How a group may open: in any way; in any way without brackets around it; by the rows alone that its author aligned.
_FREELY, _BARE, _BY_ROWS = 0, 1, 2


class _Fitter:
    def __init__(self, plan: Plan, measures: Measures) -> None:
        self.plan = plan
        self.count = len(plan.groups)
        #: Each group, by its number for each way in which it may be asked for.
        self.groups = plan.groups * 3
        self.indents = Indents(plan, measures)
        assert plan.measured is not None  # a plan is measured when it is made
        self.starts, self.ends = plan.measured.starts, plan.measured.ends
        self.gone: set[int] = set()
        self.ways = Ways(self.indents, self.starts, self.ends, self.gone)
        self._go_by(measures)
        #: Comments that end a line of code count as nothing, whatever lines they have.
        self.multi = {
            t: lines for t, lines in plan.measured.multi.items() if t not in plan.trailing
        }
        self.breaks: dict[int, int] = {}
        self.fixed = fixed_lines(self.indents)
        #: Of groups that are surely opened the first gap counts: no text before it goes further.
        certain = sorted(
            group.gaps[0]
            for group in plan.groups
            if group.must_open
                and not group.fixed
                and group.wrap == "stack-always"
                and (group.hanging or group.plain)
        )
        #: What interrupts lines in the whole text, and in the segment at hand.
        self.interrupting = Interrupted(sorted(self.multi), self.fixed.loose, certain)
        self.interrupted = Interrupted([], [], [])
        #: The first gaps of the groups whose lines may be set under an item: these need the column.
        self.aligned = sorted(group.gaps[0] for group in plan.groups if is_aligned(group))
        #: Whether all ends past the width are one.
        self.forgets = True
        #: The tokens before which a line ends with a bracket that comes, where it breaks for certain.
        self.opening = {
            group.gaps[0]
            for group in plan.owned
            if group.fixed and group.parts[0] == OPEN and group.opening not in plan.tree.firm
        }
        self.spare = sorted(plan.spare)
        self.memo: dict[_Asked, Frontier] = {}
        #: Bodies, by number → the least indent that one was laid out at, and what it costs there.
        self.floors: dict[int, tuple[int, int]] = {}

    @cached_property
    def bodies(self) -> Set[int]:
        """The groups whose lines begin at an indent, whatever the column of their opening bracket."""
        return {number for number, group in enumerate(self.plan.groups) if _is_body(group)}

    def _go_by(self, measures: Measures) -> None:
        """Fit by these measures from here on."""
        self.ways.go_by(measures)
        self.limit, self.continuation = measures.width, measures.continuation
        self.is_airy, self.is_dense = measures.density == "airy", measures.density == "dense"
        self.line = PENALTY if self.is_dense else LINE

    def run(self) -> Fitted:
        """Cut at the fixed lines, then fit each segment."""
        if not self.ends:
            return Fitted({}, [])
        cuts, multi = self.fixed.cuts, self.interrupting.multi
        tops = sorted(
            (
                n
                for group in self.plan.groups
                if group.fixed
                for n in group.inner
                if not self.groups[n].fixed
            ),
            key=lambda n: self.groups[n].gaps[0],
        )
        # A group's first gap lies in the segment that holds all of it but a body it ends with.
        top_firsts = [self.groups[n].gaps[0] for n in tops]
        starts, ends = self.starts, self.ends
        tokens = sorted(cuts)
        bounds = [0, *tokens, len(ends)]
        narrow = self.opening.union(self.plan.tails)
        top = 0
        while top < len(tops):
            segment = bisect_right(bounds, top_firsts[top])
            begin, stop = bounds[segment - 1], bounds[segment]
            past = top + 1
            while past < len(tops) and top_firsts[past] < stop:
                past += 1
            inside = tops[top:past]
            indent = cuts.get(begin, 0)
            if self.plan.regions:
                self._go_by(self.indents.measures(begin))
            room = self._room(stop) if stop in narrow else 0
            if (
                indent + ends[stop - 1] - starts[begin] + room > self.limit
                or any(self.groups[n].hard for n in inside)
                or (multi and any_between(multi, begin, stop))
            ):
                self._fit_segment(begin, stop, inside, indent)
                while self._drop_spare(begin, stop, cuts):
                    self._fit_segment(begin, stop, inside, indent)
            top = past
        self.breaks.update(cuts)
        if self.plan.rows.has_margins:
            self._set_margins()
        margins = {**self.fixed.margins, **self._inner_margins()}
        return Fitted(self.breaks, tokens, self.gone, margins)

    def _inner_margins(self) -> Mapping[int, Margin]:
        """The margins of the lines of bodies within expressions that keep their own."""
        kept = self.plan.margins
        return {
            token: kept[group.node, group.hanging]
            for group in (self.plan.groups if kept else ())
            if not group.fixed and (group.node, group.hanging) in kept
            for token, part in zip(group.gaps, group.parts)
            if part != CLOSE and token in self.breaks
        }

    def _set_margins(self) -> None:
        """Move the lines that do not begin where their block says."""
        gap_row, margin, breaks = self.plan.gap_row, self.plan.rows.margin, self.breaks
        for token, column in list(breaks.items()):
            wanted = margin[gap_row[token]]
            if wanted == "none":
                breaks[token] = 0
            elif wanted == "out":
                breaks[token] = max(0, column - self.indents.measures(token).indent)

    def _room(self, token: int) -> int:
        """Columns to keep at the end of the line before a cut: for a separator, or a bracket that comes."""
        return self.plan.room(token) + (token in self.opening)

    def _fit_segment(self, begin: int, end: int, inside: Sequence[int], indent: int) -> None:
        self.interrupted = self.ways.interrupted = self.interrupting.within(begin, end)
        self.forgets = not any_between(self.aligned, begin, end)
        room = self._room(end)
        # What a brace holds that begins a line stands in from the line of the construct, not from the brace.
        base = indent
        if begin in self.plan.lines:
            base -= self.indents.brace(self.plan.style(begin), begin)
        base = self.fixed.closed.get(begin, base)
        frontier = self._drive(self._concat(begin, end, inside, indent, base, base, room))
        if room:
            frontier = self._shift(frontier, room)
        _, rope = cheapest(frontier)
        self.breaks.update(breaks_in(rope))
        self.memo.clear()
        self.floors.clear()

    def _drop_spare(self, begin: int, end: int, cuts: Mapping[int, int]) -> bool:
        """Let the separators go that no longer stand at the end of a line, and take back all breaks.

        Without them a list may be laid out in other ways, so this is as if they had never been there.
        """
        low, high = bisect_left(self.spare, begin), bisect_left(self.spare, end)
        closing, broken = self.plan.spare, self.breaks
        found = {
            token
            for token in self.spare[low:high]
            if not (closing[token] in broken or closing[token] in cuts or token in self.gone)
        }
        if not found:
            return False
        self.gone.update(found)
        self.ways.forget()
        less = 0  # the columns that went before a token
        for token in range(min(found), end):
            width = self.ends[token] - self.starts[token]
            self.starts[token] -= less
            if token in found:
                less += width
                width = 0
            self.ends[token] = self.starts[token] + width
        for token in range(begin + 1, end):
            broken.pop(token, None)
        return True

    def _drive(self, task: _Task) -> Frontier:
        """Run a task and those it asks for, on a stack of our own."""
        stack: list[tuple[_Task, _Asked | None, int]] = [(task, None, 0)]
        answer: Frontier | None = None
        while True:
            running, key, over = stack[-1]
            try:
                asked = running.send(answer)  # type: ignore[arg-type]
            except StopIteration as done:
                result: Frontier = done.value
                stack.pop()
                if key is not None:
                    self.memo[key] = result
                    if key[0] in self.bodies:
                        number, _, indent, _, _ = key
                        if number not in self.floors or indent < self.floors[number][0]:
                            self.floors[number] = indent, cheapest(result)[0]
                if not stack:
                    return result
                answer = charged(result, over)
                continue
            number, column, indent, _, rest = asked
            answer = self._flat(number, column, rest)
            if answer is None:
                over = 0
                if number in self.bodies:  # found once, whatever stands before and after it
                    first = self.groups[number].first
                    end = column + self.ends[first] - self.starts[first]
                    over = max(0, end - max(column, self.limit))
                    asked = (number, 0, indent, 0, 0)
                known = self.memo.get(asked)
                if known is None:
                    stack.append((self._solve(*asked), asked, over))
                else:
                    answer = charged(known, over)

    def _flat(self, number: int, column: int, rest: int) -> Frontier | None:
        """The group on one line, if it may stand so and fits with what follows."""
        group = self.groups[number]
        if group.hard:
            return None
        end = column + self.ends[group.end - 1] - self._origin(group)
        if end + rest > self.limit:
            return None
        multi = self.interrupted.multi
        if multi and any_between(multi, group.first, group.end):
            return None
        return {end: (0, None)}

    def _origin(self, group: Group) -> int:
        """Where the group's text begins, on the line that holds everything."""
        if group.gaps[0] == group.first and group.first:
            return self.ends[group.first - 1]
        return self.starts[group.first]

    def _solve(self, number: int, column: int, indent: int, margin: int, rest: int) -> _Task:
        """All ways to lay a group out that does not simply fit (see `_Asked`)."""
        group = self.groups[number]
        how, number = divmod(number, self.count)
        is_bare = how == _BARE
        found: Frontier = {}
        is_sealed = is_bare and group.needs >= 0 or group.own and self.plan.tree.is_sealed
        if self.plan.tree.is_sealed and group.must_open and not group.own:
            is_sealed = False  # a comment in it shows that there are brackets around it
        is_sealed = is_sealed or group.shut
        opens: list[int] = []
        waits = False  # for other ways to be looked at, since it passes the width if it stays closed
        if is_sealed or not group.must_open:
            never_opens = is_sealed and self.plan.tree.is_sealed
            opens = [
                n for n in group.inner if never_opens or may_open(self.plan, group, n, self.gone)
            ]
            waits = not is_sealed and self._passes_width(group, column, opens)
            kept = group.inner if group.holds else ()
            kept = [n for n in kept if opens_in_place(self.plan, group, n)]
            if kept or how == _BY_ROWS:
                yield from self._closed(found, number, column, indent, margin, rest, _BY_ROWS, kept)
            hard = [n for n in kept if self.groups[n].hard]
            is_enough = (
                how == _BY_ROWS
                or any(n not in opens or self.groups[n].needs == number for n in hard)
            )
            waits = waits and not is_enough
            if not (waits or is_enough):
                yield from self._closed(found, number, column, indent, margin, rest, how, opens)
        if is_sealed or self._is_in_vain(group, column, indent):
            return found
        enough = self._enough(found, rest)
        least = 0 if enough < 0 else self._least(group, min(indent, margin))
        find = self.ways.by_rows if how == _BY_ROWS else self.ways.of
        for extra, broken in find(number, column, indent, rest):
            cost_of_opening = (int(group.style["cost"].value) + extra) * PENALTY
            if 0 <= enough <= cost_of_opening + len(broken) * self.line + least:
                continue
            opened = yield from self._open(group, column, indent, margin, rest, broken, how)
            for end, (cost, rope) in opened.items():
                offer(found, end, cost + cost_of_opening, rope)
        if waits and not 0 <= self._enough(found, rest) < OVERFLOW:
            opened, found = found, {}
            yield from self._closed(found, number, column, indent, margin, rest, how, opens)
            for end, (cost, rope) in opened.items():
                offer(found, end, cost, rope)
        return cheapest_ends(found, 2 * self.limit)

    def _enough(self, found: Frontier, rest: int) -> int:
        """The cost of a way after which what follows fits on its line, or -1: none that costs as much is better."""
        if not (found and self.forgets):
            return -1
        room = self.limit - rest
        return min((cost for end, (cost, _) in found.items() if end <= room), default=-1)

    def _least(self, group: Group, indent: int) -> int:
        """What the bodies in a group cost at least: what they cost where they stand no further in."""
        least = 0
        todo = list(group.inner)
        while todo:
            number = todo.pop()
            if number in self.floors:
                known, cost = self.floors[number]
                least += cost if known <= indent else 0
            elif self.groups[number].hard:
                todo += self.groups[number].inner
        return least

    def _closed(
        self,
        found: Frontier,
        number: int,
        column: int,
        indent: int,
        margin: int,
        rest: int,
        how: int,
        opens: list[int],
    ) -> Generator[_Asked, Frontier, None]:
        """Add the ways in which a group stays closed."""
        group = self.groups[number]
        if opens or self.interrupted.cuts(group.first, group.end):
            stays = how == _BY_ROWS and (group.bracketed or not group.own)
            bracket = int(stays and group.own and group.opening not in self.plan.tree.firm)
            if stays:
                opens = [n + self.count * _BY_ROWS for n in opens]
            elif group.own or how == _BARE:
                bare = [self._is_bare(n, number, how == _BARE) for n in opens]
                opens = [n + self.count * _BARE * is_bare for n, is_bare in zip(opens, bare)]
            at, more, origin = column + bracket, rest + bracket, self._origin(group)
            closed = yield from self._concat(
                group.first, group.end, opens, at, indent, margin, more, origin
            )
            if bracket:
                closed = self._shift(closed, bracket)
        else:
            end = column + self.ends[group.end - 1] - self._origin(group)
            over = max(0, end - max(column, self.limit))
            if self.forgets:
                end = min(end, self.limit)
            closed = {end: (over * OVERFLOW, None)}
        held = self._held(group, opens) * PENALTY
        link = 0  # of the one call in the list: its own list may open, but no line should begin with it
        if opens and opens_late(self.plan, group, opens[0] % self.count, self.gone):
            held += self.line
            call = self.groups[opens[0]]
            link = call.gaps[0] if call.parts[0] == MID else 0
        if self.is_airy and group.parts[0] == OPEN and not group.own:
            held += AIRY_HOLD * PENALTY
        for end, (cost, rope) in closed.items():
            if link and link in breaks_in(rope):
                cost += TORN * PENALTY
            offer(found, end, cost + (held if rope is not None else 0), rope)

    def _passes_width(self, group: Group, column: int, opens: Sequence[int]) -> bool:
        """Whether a group that stays closed passes the width before the first gap that may break in it."""
        if not opens or self.interrupted.multi or self.interrupted.loose:
            return False
        stop = min(self.ways.next_gap(self.groups[opens[0]].first), group.end)
        return max(column, self.limit) < column + self.ends[stop - 1] - self._origin(group)

    def _is_bare(self, number: int, around: int, is_bare: bool) -> bool:
        """Whether a group has no brackets around it while these, or those further out, stay away."""
        home = self.groups[number].home
        return home >= 0 and (is_bare or home == around)

    def _held(self, group: Group, opens: Sequence[int]) -> int:
        """What a sequence costs more that stays closed around an open part. opens: what may open in it."""
        style, links = group.style, group.parts.count(MID)
        is_held = group.parts[0] == OPEN or style["grant"].value == "first"
        held = max(int(is_held), links - 1) * int(style["hold"].value)
        return held + self._held_lists(group, opens)

    def _held_lists(self, group: Group, opens: Sequence[int]) -> int:
        """What a chain costs more in which a list is opened, where that is the last one that may be."""
        more = int(group.style["hold-lists"].value)
        links = group.parts.count(MID)
        last = self.groups[opens[-1] % self.count] if opens else None
        is_list = last is not None and MID in last.parts and last.wrap != "stack-always"
        if more and links and is_list:
            head = self.plan.tree.texts[group.gaps[0] - 1]
            if links > 1 or head[-1:] in (b")", b"]"):
                return more
        return 0

    def _is_in_vain(self, group: Group, column: int, indent: int) -> bool:
        """Whether brackets that may come would hold a word, such as a long text, that is too long even so, and spare
        little: no eighth of a line, or less than half of what is too long. column: at which it begins without them."""
        if not group.own or group.must_open or group.inner or len(group.gaps) != 2:
            return False
        begin, stop = group.gaps
        inner = self.ways.inner_column(group, 0, indent, True)
        past = inner + self.ends[stop - 1] - self.starts[begin] - self.limit
        spared = column - inner
        return past > 0 and (8 * spared < self.limit or spared < past)

    def _open(
        self,
        group: Group,
        column: int,
        indent: int,
        margin: int,
        rest: int,
        broken: list[int],
        how: int,
    ) -> _Task:
        """Lay a group out with these of its gaps broken. how: freely, bare, or by rows."""
        starts, ends, limit, interrupted = self.starts, self.ends, self.limit, self.interrupted
        step = self.indents.brace(group.style, group.first)
        indent, margin = indent + step, margin + step
        opened = bool(broken) and group.parts[0] == OPEN and broken[0] == group.gaps[0]
        is_bare = how == _BARE
        is_beside = group.aligned is not None and group.parts[0] == OPEN and not opened
        as_authored = how == _BY_ROWS or is_beside
        inner_column = self.ways.inner_column(group, column, indent, opened, as_authored)
        closing = inner_column if group.style["close"].value == "item-column" else indent
        last_gap = group.gaps[-1] if group.parts[-1] == CLOSE else -1
        inner, groups = group.inner, self.groups
        has_tails = bool(self.plan.tails)
        total = 0
        items: Rope = None
        frontier: Frontier = {column: (0, None)}
        at = 0
        begin, line_column = group.first, column
        # Items that share a line of their own stay closed, as if the sequence were.
        is_shelf = group.wrap != "flow" and makes_shelf(group, broken)
        unfit: list[int] = []
        for index in range(len(broken) + 1):
            is_last = index == len(broken)
            stop = group.end if is_last else broken[index]
            first_kid = at
            while at < len(inner) and groups[inner[at]].first < stop:
                at += 1
            room = self.plan.room(stop) if has_tails and not is_last and not is_shelf else 0
            if is_last:
                room += self.ways.room_of_bracket(group)
            elif index == 0:
                room += group.own and group.opening not in self.plan.tree.firm
            trail = rest + room if is_last else room
            cost, rope = 0, None
            if begin == stop:  # a hanging node: nothing stands before its gap
                frontier = {line_column: (0, None)}
            else:
                kids = inner[first_kid:at]
                if is_bare:
                    kids = [n + self.count * _BARE if groups[n].home >= 0 else n for n in kids]
                elif as_authored:
                    if not group.must_open:  # each line fits up to where one of these opens
                        kids = [n for n in kids if groups[n].hard or groups[n].is_as_authored]
                    kids = [n + self.count * _BY_ROWS * groups[n].is_as_authored for n in kids]
                if is_shelf:
                    kids = [n for n in kids if self._may_open_on_shelf(group, n % self.count)]
                end = line_column + ends[stop - 1] - starts[begin]
                if (
                    end + trail <= limit
                    and not (kids and any(groups[n % self.count].hard for n in kids))
                    and not interrupted.cuts(begin, stop)
                ):
                    if is_last:
                        frontier = {end + room: (0, None)}
                else:
                    line_indent = line_margin = line_column
                    if begin == group.first and not (index and group.hanging):
                        # Operators within the first operand stand further in than our own.
                        line_indent = inner_column if group.headed else indent
                        is_inner = group.style["first-lines"].value == "inner"
                        line_margin = inner_column if is_inner else margin
                    frontier = yield from self._concat(
                        begin, stop, kids, line_column, line_indent, line_margin, trail
                    )
                    if room:
                        frontier = self._shift(frontier, room)
                    cost, rope = cheapest(frontier)
            if is_last:
                break
            total += cost + self.line
            if rope is not None:
                items = (items, rope)
                unfit.append(first_kid)
                if not index and stop != group.gaps[0] and group.style["keep"].value != "none":
                    # The list of a link that stays beside what is before it reads worse than to break before it.
                    total += (BROKEN_FIRST + 1) * PENALTY
            begin = stop
            line_column = closing if stop == last_gap else inner_column
            if line_column > limit:
                total += (line_column - limit) * OVERFLOW
        held = [self._held_in_vain(group, kids) for kids in (unfit, [*unfit, first_kid])]
        inner_breaks = [t for t in broken if t != last_gap]
        if inner_breaks:
            items = (items, (inner_breaks, inner_column))
        if last_gap in broken:
            items = (items, ([last_gap], closing))
        return {
            end: (
                (cost + total + held[0], items)
                if rope is None
                else (cost + total + held[1], (items, rope))
            )
            for end, (cost, rope) in frontier.items()
        }

    def _held_in_vain(self, group: Group, unfit: Sequence[int]) -> int:
        """What a chain costs more whose links are broken off, though that does not help: a list opens even so.

        unfit: of the links that do not fit, each the place among the groups in the chain at which those in it begin.
        """
        if unfit == [0] or unfit and group.parts.count(MID) < 3:
            return self._held_lists(group, group.inner[unfit[0]:]) * PENALTY
        return 0

    def _may_open_on_shelf(self, group: Group, number: int) -> bool:
        """Whether a part of a group may open whose items share a line of their own.

        Not where a list in it would then be said to be opened by its author: around that, each item has a line.
        """
        return (
            not self._keeps_opened[number] and may_open_among(self.plan, group, number, self.gone)
        )

    @cached_property
    def _keeps_opened(self) -> list[bool]:
        """Per group, whether it, or one within it, stays opened if its author opened it."""
        found = [group.style["authored"].value != "no" for group in self.plan.groups]
        for number in range(len(found) - 1, -1, -1):
            found[number] = found[number] or any(found[n] for n in self.groups[number].inner)
        return found

    def _concat(
        self,
        begin: int,
        end: int,
        kids: Sequence[int],
        column: int,
        indent: int,
        margin: int,
        rest: int,
        origin: int | None = None,
    ) -> _Task:
        """Lay tokens out one after the other; only the groups in `kids` may open."""
        starts, ends, groups = self.starts, self.ends, self.groups
        mark = starts[begin] if origin is None else origin
        frontier: Frontier = {column: (0, None)}
        for at, what, number in self._events(begin, end, kids):
            if what == _KID:
                group = groups[number]
                place = self._origin(group)
                if place != mark:
                    frontier = self._shift(frontier, place - mark)
                after = self._rest_of_line(group.end, end, rest)
                reached: Frontier = {}
                # Operators may stand further in than their line; what is in brackets goes by the line.
                inner_indent = margin if group.parts[0] == OPEN else indent
                for start, (cost, rope) in frontier.items():
                    frontier_of_kid = yield number, start, inner_indent, margin, after
                    for stop, (more, inner) in frontier_of_kid.items():
                        joined = rope if inner is None else (rope, inner)
                        offer(reached, stop, cost + more, joined)
                frontier = reached
                mark = ends[group.end - 1]
            elif what == _LINES:
                first_line, last_line, lines = self.multi[at]
                frontier = self._shift(frontier, starts[at] + first_line - mark)
                cost, rope = cheapest(frontier)
                frontier = {last_line: (cost + lines * self.line, rope)}
                mark = ends[at]
            else:
                frontier = self._shift(frontier, ends[at - 1] - mark)
                cost, rope = cheapest(frontier)
                by_comment = self.plan.lines[at][1]
                line = indent + (self.continuation if by_comment else 0)
                line += self.indents.brace(self.plan.style(at), at)
                cost += max(0, line - self.limit) * OVERFLOW
                frontier = {line: (cost + self.line, (rope, ([at], line)))}
                mark = starts[at]
        if ends[end - 1] != mark:
            frontier = self._shift(frontier, ends[end - 1] - mark)
        return frontier

    def _events(self, begin: int, end: int, kids: Sequence[int]) -> list[tuple[int, int, int]]:
        """What interrupts a run of plain tokens, in order: (token, what, group)."""
        groups = self.groups
        events = [(groups[n].first, _KID, n) for n in kids]
        for source, what in ((self.interrupted.multi, _LINES), (self.interrupted.loose, _BREAK)):
            if not source:
                continue
            low = bisect_left(source, begin + (what == _BREAK))
            high = bisect_left(source, end)
            for token in source[low:high]:
                if not any(
                    groups[n].first + (what == _BREAK) <= token < groups[n].end for n in kids
                ):
                    events.append((token, what, -1))
        events.sort()
        return events

    def _rest_of_line(self, begin: int, end: int, rest: int) -> int:
        """Columns from the end of a group to the next line end that is certain."""
        stop = self.interrupted.next_line(begin, end)
        if stop < end:
            rest = 0
        # All that does not fit is the same.
        return min(max(0, self.ends[stop - 1] - self.ends[begin - 1]) + rest, self.limit + 1)

    def _shift(self, frontier: Frontier, columns: int) -> Frontier:
        return shifted(frontier, columns, self.limit, self.forgets)


def _is_body(group: Group) -> bool:
    """Whether a line surely ends behind its opening bracket and another before its closing one."""
    if not group.must_open or group.fixed or group.own or group.shut or len(group.gaps) < 2:
        return False
    first, last = group.gaps[0], group.gaps[-1]
    if (first, last) != (group.first + 1, group.end - 1) or group.aligned is not None:
        return False
    if (group.parts[0], group.parts[-1]) != (OPEN, CLOSE):
        return False
    mode, close = group.style["open"].value, group.style["close"].value
    opens = first in group.forced or mode not in ("same-line", "either", "beside")
    closes = last in group.forced or mode not in ("same-line", "beside") and close != "same-line"
    return opens and closes


def opened_bodies(plan: Plan, fitted: Fitted) -> set[int]:
    """Where bodies begin, by offset, that their author wrote on one line and that do not stand so."""
    tree, breaks = plan.tree, fitted.breaks
    return {
        tree.token_start[tree.first(group.node)]
        for group in (plan.groups if plan.short else ())
        if group.node in plan.short and not group.hanging
        if not breaks.keys().isdisjoint(group.gaps)
    }
