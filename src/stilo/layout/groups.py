"""Sequences and the gaps they own, for one tree.

A *group* is a sequence as it occurs in a file: a run of tokens with the gaps
that are broken together. Groups nest. A group that must open (a body; a list
around a line comment) with only such groups around it is *fixed*: its lines
and indents are known before anything is measured, and they cut the file into
segments that are fitted one by one.
"""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Sequence
from dataclasses import dataclass, field
from itertools import compress, count
from typing import NamedTuple

from stilo.layout.columns import Measured, Measures, measure
from stilo.layout.comments import Event, place_comments
from stilo.layout.gaps import (
    CLOSE,
    EMPTY,
    FIELD_SHIFT,
    HANGING,
    MID,
    NONE,
    OPEN,
    OUTSIDE,
    Place,
    SEQUENCE,
    VARIANT_SHIFT,
    Gap,
    Rows,
    opens_plainly,
)
from stilo.layout.shared import keep_shared_lines
from stilo.layout.regions import Region, most_careful
from stilo.layout.tails import Tail, find_tails
from stilo.sheet.cascade import Style
from stilo.tree.flat import Tree

# How a hanging node is wrapped.
_HANGS = {"line": "stack-always", "fits": "stack", "soft": "stack"}
# Shared by groups that have none; never added to.
_NONE: list[int] = []


class _Seed(NamedTuple):
    """A sequence that a group may grow from: its node and row, and the seed around it."""

    node: int
    row: int
    around: int
    hanging: bool


class Group:
    """A sequence: its node, style, and the gaps it owns with their parts.

    first, end: its tokens. around: number of the group around it. A gap is named by the token
    after it. forced: gaps that are new lines whatever fits. hard: the group cannot stand on one
    line; must_open: nor can it stay closed. bulky: hard for a body or a comment in it, which may
    change how it is laid out; what is opened because the author or a setting asks is laid out as
    if it did not fit. headed: it begins with another sequence that breaks between operands. own: its delimiters come and go
    with its breaks; opening: the token of the first, if so. needs: the group with such delimiters that must be opened, so that this one
    may be, or -1; home: the nearest such group, if no other brackets are nearer. inner: the groups directly in it, in order.
    """

    inner = _NONE
    hard = must_open = fixed = bulky = headed = own = False
    needs = home = opening = -1

    def __init__(
        self,
        tree: Tree,
        seed: _Seed,
        style: Style,
        around: int,
        gaps: list[int],
        parts: list[int],
        forced: set[int],
    ) -> None:
        self.node = seed.node
        self.hanging = seed.hanging
        self.style = style
        self.wrap = _HANGS[str(style["hang"].value)] if seed.hanging else str(style["wrap"].value)
        self.around = around
        self.gaps = gaps
        self.parts = parts
        self.forced = forced
        self.first = min(tree.first(seed.node), gaps[0]) if gaps else 0
        self.end = tree.last(seed.node) + 1

    def part_of(self, token: int) -> int:
        """How many of the group's gaps lie at or before a token."""
        return bisect_right(self.gaps, token)


@dataclass
class Plan:
    """All that is decided of a file before measuring.

    gap_row: per token, the row in `rows` of the node that the gap before it leads to. space: per
    token, blanks before it when no line breaks there. lines: gaps that are new lines in no
    sequence, with the innermost group and whether a comment asks for it. blanks: least blank
    lines where more than none. comments, opaque: tokens that are comments; that may hold line
    ends. trailing: comments that end a line of code. asked: gaps that are new lines because the
    author or a setting asks for it. tails: by closing delimiter, where the separator behind the
    last item is the style's to decide. spare: such separators that go
    where nothing is broken → the delimiter behind. regions: where other values hold than elsewhere. idle: tokens that do nothing at the end of a line.
    lacking: first tokens of values that were spared brackets of their own, on lines that may not fit.
    """

    tree: Tree
    rows: Rows
    row: list[int]
    gap_row: list[int]
    space: list[int]
    comments: list[int]
    opaque: list[int]
    regions: Sequence[Region] = ()
    groups: list[Group] = field(default_factory=list)
    lines: dict[int, tuple[int, bool]] = field(default_factory=dict)
    blanks: dict[int, int] = field(default_factory=dict)
    trailing: set[int] = field(default_factory=set)
    asked: set[int] = field(default_factory=set)
    tails: dict[int, Tail] = field(default_factory=dict)
    spare: dict[int, int] = field(default_factory=dict)
    measured: Measured | None = None
    idle: list[int] = field(default_factory=list)
    lacking: list[int] = field(default_factory=list)

    def room(self, token: int) -> int:
        """Columns to keep at the end of a line before the one that a token begins."""
        tail = self.tails.get(token)
        return len(tail.sign) if tail is not None and tail.is_wanted else 0

    @property
    def own_signs(self) -> frozenset[int]:
        """The tokens of brackets that come and go."""
        return frozenset(self.tree.soft) | frozenset(self.tree.soft.values())

    def style(self, token: int) -> Style:
        """What is declared for the node that the gap before a token leads to."""
        return self.rows.style[self.gap_row[token]]

    def gap(self, token: int) -> Gap:
        """What the sheet says of the gap before a token."""
        return self.rows.gap[self.gap_row[token]]


def plan(
    tree: Tree,
    rows: Rows,
    punctuation: frozenset[str],
    measures: Measures,
    regions: Sequence[Region] = (),
) -> Plan:
    """Decide each gap of a tree as far as its kind goes, and form the groups.

    regions: where other values hold than in the file at large, an outer before one in it.
    Groups are formed only where they are needed: of a line that is sure to fit, none are. Where a
    line may not fit that was spared brackets of its own, the plan is left there and says so.
    """
    matched = _match(tree, rows, regions)
    row = matched.row
    # Columns over all tokens are built by maps over C functions: twice the speed of a loop.
    gap_row = row[:1]
    gap_row += map(row[1:].__getitem__, tree.token_node[:-1])  # of the node behind each leaf
    space = list(map(rows.space.__getitem__, gap_row))
    if space:
        space[0] = 0
    leaf_row = list(map(row.__getitem__, tree.token_node))
    opaque = list(compress(count(), map(rows.opaque.__getitem__, leaf_row)))
    comments = [token for token in opaque if rows.comment[leaf_row[token]]]
    result = Plan(tree, rows, row, gap_row, space, comments, opaque, regions)
    _keep_apart(result, leaf_row, punctuation)
    for opening, closing in tree.soft.items():
        space[opening + 1] = space[closing] = 0
    events = place_comments(result, matched)
    unmeasured = result.trailing
    if rows.has_tails:
        result.tails = find_tails(result)
        unmeasured = unmeasured.union(t.found for t in result.tails.values() if t.found >= 0)
    if rows.has_idle:
        result.idle = [t for t, row in enumerate(leaf_row) if rows.idle[row]]
        unmeasured = unmeasured.union(result.idle)
    result.measured = measured = measure(tree, space, opaque, unmeasured)
    events.pop(0, None)
    for token in compress(count(), map(rows.needs_care.__getitem__, gap_row)):
        if token and token not in events:
            gap, node = result.gap(token), tree.gap_right(token)
            number = matched.owner(tree, node, gap)
            events[token] = (gap.part, gap.line, gap.blank, number, False)
    _open_as_asked(result, matched, events)
    careful = most_careful(regions, measures) if regions else measures
    content = _columns_of_lines(matched, rows, careful)
    if rows.has_shares:
        keep_shared_lines(result, matched, events, measured, content, careful.width)
    wanted = _unsure(result, matched, events, content, careful.width, measured)
    if result.lacking:
        return result
    sown = _Sown({}, {}, {})
    sown.add(matched, result, wanted)
    for token in sorted(events):
        sown.add_event(result, token, events[token])
    _grow(result, matched, sown)
    _nest(result)
    return result


def _open_as_asked(plan: Plan, matched: Matched, events: dict[int, Event]) -> None:
    """Force open what the author opened, and what holds more than may stand in a row."""
    tree, rows = plan.tree, plan.rows
    counted: dict[int, list[int]] = {}
    asking = compress(count(), map(rows.asks.__getitem__, plan.gap_row)) if rows.has_asks else ()
    for token in asking:
        if not token:
            continue
        gap = plan.gap(token)
        number = matched.owner(tree, tree.gap_right(token), gap)
        if gap.part == MID:
            counted.setdefault(number, []).append(token)
        elif token not in events and b"\n" in tree.between(token):
            events[token] = (gap.part, True, gap.blank, number, False)
            plan.asked.add(token)
    for number in matched.laden:
        seed = matched.seeds[number]
        token = tree.first(seed.node) + (not seed.hanging)
        hangs = not seed.hanging and seed.node in matched.hang_of
        if not hangs and not (token in events and events[token][1]):
            events[token] = (OPEN, True, plan.gap(token).blank, number, False)
            plan.asked.add(token)
    for number, tokens in counted.items():
        last = tokens[-1]
        most = int(str(rows.style[matched.seeds[number].row]["row-most"].value))
        if len(tokens) >= most and last not in events:
            events[last] = (MID, True, plan.gap(last).blank, number, False)
            plan.asked.add(last)


@dataclass
class _Sown:
    """Per seed: the gaps of its group, their parts, and which of them are forced."""

    gaps: dict[int, list[int]]
    parts: dict[int, list[int]]
    forced: dict[int, set[int]]

    def add(self, matched: Matched, plan: Plan, tokens: list[int]) -> None:
        """Take in gaps that are no more than places where their sequences may break."""
        tree, gap_row, plain = plan.tree, plan.gap_row, plan.rows.plain_part
        group_of, parent, token_node = matched.group_of, tree.parent, tree.token_node
        gaps, parts = self.gaps, self.parts
        for token in tokens:
            number = group_of[parent[token_node[token - 1] + 1]]
            part = plain[gap_row[token]]
            if number in gaps:
                gaps[number].append(token)
                parts[number].append(part)
            else:
                gaps[number] = [token]
                parts[number] = [part]

    def add_event(self, plan: Plan, token: int, event: Event) -> None:
        """Take in a gap of which there is more to say."""
        part, forced, blank, number, by_comment = event
        if blank:
            plan.blanks[token] = blank
        if part == NONE or part == EMPTY:
            if forced:
                plan.lines[token] = (number, by_comment)
            return
        gaps, parts = self.gaps.setdefault(number, []), self.parts.setdefault(number, [])
        at = bisect_right(gaps, token)
        gaps.insert(at, token)
        parts.insert(at, part)
        if forced:
            self.forced.setdefault(number, set()).add(token)


def _columns_of_lines(matched: Matched, rows: Rows, measures: Measures) -> list[int]:
    """The column at which the lines of each seed begin that are sure."""
    seeds, clear = matched.seeds, matched.clear
    content = [0] * len(seeds)
    for number in compress(count(), clear):
        seed = seeds[number]
        if number:
            content[number] = (
                content[seed.around] + measures.step(rows.style[seed.row], seed.hanging)
            )
    return content


def _unsure(
    plan: Plan,
    matched: Matched,
    events: dict[int, Event],
    content: Sequence[int],
    width: int,
    measured: Measured,
) -> list[int]:
    """The plain gaps that have to be looked at: all but those within lines that surely fit.

    A line surely fits if it lies between two new lines of bodies that no sequence around them
    can move, holds no other new line, and is short enough at the indent of its body.
    """
    rows, gap_row, tree = plan.rows, plan.gap_row, plan.tree
    seeds, clear = matched.seeds, matched.clear
    plain = rows.plain_part
    group_of = matched.group_of
    is_firm = list(map(rows.firm.__getitem__, gap_row))
    is_firm[:1] = [False]
    nodes = map(tree.token_node.__getitem__, compress(count(-1), is_firm))
    owners = map(group_of.__getitem__, map(tree.parent[1:].__getitem__, nodes))
    wanted: list[int] = []
    stops: dict[int, int] = {}  # tokens that surely begin a line, with their seeds
    unsettled: list[int] = list(measured.multi)  # tokens at or before which lines may end
    for token, number in zip(compress(count(), is_firm), owners):
        if token not in events:
            wanted.append(token)
            if clear[number]:
                stops[token] = number
            else:
                unsettled.append(token)
    opened: set[int] = set()
    for number in matched.opened:
        closes = rows.style[seeds[number].row]["close"].value != "cling"
        for child in list(tree.children(seeds[number].node))[1:]:
            token = tree.first(child)
            part = plain[gap_row[token]]
            if part and token not in events and (closes or part != CLOSE):
                wanted.append(token)
                opened.add(token)
                stops[token] = number
    for token, (part, forced, _, number, _) in events.items():
        if (forced or (part != NONE and rows.firm[gap_row[token]])) and clear[number]:
            stops[token] = number
        elif forced or part != NONE:
            unsettled.append(token)
    unsettled.sort()
    starts, ends = measured.starts, measured.ends
    tails = plan.tails
    spared = list(tree.spared)
    begin, indent = 0, 0
    at = 0
    stops[len(gap_row)] = 0
    sure = sorted(stops)
    for token in sure:
        while at < len(unsettled) and unsettled[at] < begin:
            at += 1
        calm = at == len(unsettled) or unsettled[at] >= token
        if not calm and token - begin == 1:
            calm = unsettled[at] == begin and begin in measured.multi
        room = width - plan.room(token) if tails else width
        if token > begin and not (calm and indent + ends[token - 1] - starts[begin] <= room):
            wanted += [
                t
                for t in range(begin + 1, token)
                if plain[gap_row[t]] and not is_firm[t] and t not in events and t not in opened
            ]
            plan.lacking += spared[bisect_left(spared, begin):bisect_left(spared, token)]
        begin, indent = token, content[stops[token]]
    wanted.sort()
    for first, (last, _) in tree.spared.items():
        if sure[bisect_right(sure, first)] <= last:
            plan.lacking.append(first)
    return wanted


def _grow(plan: Plan, matched: Matched, sown: _Sown) -> None:
    """Make the groups of the seeds that have gaps, numbered in text order behind the root."""
    seeds, tree, styles = matched.seeds, plan.tree, plan.rows.style
    groups = plan.groups
    root = Group(tree, seeds[0], plan.rows.cascade.styles[0], -1, [], [], set()) if seeds else None
    if root is None:
        return
    groups.append(root)
    numbers = {0: 0}
    for old in sorted(sown.gaps):
        around = seeds[old].around
        while around not in numbers:
            around = seeds[around].around
        numbers[old] = len(groups)
        group = Group(
            tree,
            seeds[old],
            styles[seeds[old].row],
            numbers[around],
            sown.gaps[old],
            sown.parts[old],
            sown.forced.get(old, set()),
        )
        group.end = matched.ends.get(old, group.end)
        if tree.soft:
            _find_brackets(plan, groups, group)
        groups.append(group)
    for token, (number, by_comment) in plan.lines.items():
        while number not in numbers:
            number = seeds[number].around
        plan.lines[token] = (numbers[number], by_comment)


def _find_brackets(plan: Plan, groups: list[Group], group: Group) -> None:
    """Whether a group has brackets of its own, and which around it must be opened before it."""
    is_bracketed = group.parts[0] == OPEN and not group.hanging
    opening = group.gaps[0] - 1
    while opening > 0 and plan.rows.comment[plan.row[plan.tree.token_node[opening]]]:
        opening -= 1
    group.own = is_bracketed and opening in plan.tree.soft
    group.opening = opening if group.own else -1
    around = groups[group.around]
    if not group.around or group.gaps[0] < around.gaps[0]:
        group.home = around.home  # it stands before the brackets
    elif around.own:
        group.home = group.around
    elif around.hanging or around.parts[0] == OPEN:
        group.home = -1
    else:
        group.home = around.home
    group.needs = -1 if is_bracketed or group.hanging else group.home


@dataclass(frozen=True)
class Matched:
    """Per node its row and innermost seed; the seeds; the seed of each node that hangs.

    ends: where a seed ends before its node does. clear: of each seed, whether its lines are sure:
    it is always opened, and so is all around it. opened: those of them that are opened by a body
    in them alone. laden: bodies that might stand on one line, were there no other in them.
    """

    row: list[int]
    group_of: list[int]
    seeds: list[_Seed]
    hang_of: dict[int, int]
    ends: dict[int, int]
    clear: list[bool]
    opened: list[int]
    laden: set[int]

    def owner(self, tree: Tree, node: int, gap: Gap) -> int:
        """The number of the seed that a gap belongs to, which leads to a node."""
        return self.hang_of[node] if gap.of_right else self.group_of[tree.parent[node]]


def _match(tree: Tree, rows: Rows, regions: Sequence[Region]) -> Matched:
    """Give each node its row and its innermost seed: the automaton's inner loop."""
    seeds = [_Seed(0, 0, -1, False)]
    clear = [True]
    opened: list[int] = []
    laden: set[int] = set()
    short: set[int] = set()
    header_ends: dict[int, int] = {}
    row: list[int] = []
    group_of: list[int] = []
    hang_of: dict[int, int] = {}
    if not tree.kind:
        return Matched(row, group_of, seeds, hang_of, header_ends, clear, opened, laden)
    within, beyond, special = rows.within, rows.beyond, rows.special
    place_of: list[Place | None] = [None] * len(tree.kind)  # per parent, of its next child
    add_row, add_group = row.append, group_of.append
    kinds = tree.kind
    if tree.field:
        kinds = list(kinds)
        for node, number in tree.field.items():
            kinds[node] |= number << FIELD_SHIFT
    if regions:
        kinds = list(kinds)
        for region in regions:
            for node in region.nodes:
                kinds[node] = kinds[node] & ~(-1 << VARIANT_SHIFT) | region.variant << VARIANT_SHIFT
    # What holds for the family at hand; most nodes follow their previous sibling.
    current, place, shared = -1, rows.outside, 0
    for kind, parent in zip(kinds, tree.parent):
        if parent != current:
            place_of[current] = place
            current = parent
            known = place_of[parent]
            place = within[row[parent]] if known is None else known
            shared = group_of[parent]
        found = place.get(kind)
        if found is None:
            found = rows.row(place, kind, tree, len(row))
        add_row(found)
        if not special[found]:
            place = beyond[found]
            add_group(shared)
            continue
        node = len(row) - 1
        if rows.short[found] and _is_short(tree, rows, node, found):
            found = row[-1] = rows.shortened(place, found, kind)
            short.add(node)
            outer = shared
            while outer:
                if seeds[outer].node in short:
                    laden.add(outer)
                outer = seeds[outer].around
        if not rows.comment[found]:
            place = beyond[found]
        group = shared
        begins = rows.starts[found]
        if begins & OUTSIDE and node and _ends_header(tree, rows, seeds[group], node):
            header_ends[group] = tree.first(node)
            group = seeds[group].around
        if begins & HANGING:
            seeds.append(_Seed(node, found, group, True))
            clear.append(begins & OUTSIDE > 0 and clear[group])
            group = hang_of[node] = len(seeds) - 1
        if begins & SEQUENCE:
            if begins & OUTSIDE and not clear[group]:
                # A plain sequence around a body must open; its lines are then sure as well.
                seed = seeds[group]
                if (
                    seed.node == parent
                    and rows.yields[seed.row]
                    and clear[seed.around]
                    and rows.style[found]["cling"].value == "none"
                ):
                    clear[group] = True
                    opened.append(group)
            seeds.append(_Seed(node, found, group, False))
            clear.append(begins & OUTSIDE > 0 and clear[group])
            group = len(seeds) - 1
        add_group(group)
    return Matched(row, group_of, seeds, hang_of, header_ends, clear, opened, laden)


def _is_short(tree: Tree, rows: Rows, node: int, row: int) -> bool:
    """Whether a body holds no more than one item beside its delimiters, as it was written.

    A body that hangs has no delimiters, and what counts is whether it begins on its header's line.
    """
    when = rows.short[row]
    if rows.starts[row] & HANGING:
        children = tree.children(node)
        first = tree.first(next(children))
        return (
            (when == "fits" or b"\n" not in tree.between(first))
            and all(
                tree.kind[child] in rows.comments and b"\n" not in tree.between(tree.first(child))
                for child in children
            )
        )
    if len(tree.child_kinds(node)) > 3:
        return False
    if when == "fits":
        return True
    start, end = tree.token_start[tree.first(node)], tree.token_end[tree.last(node)]
    return b"\n" not in tree.data[start:end]


def _ends_header(tree: Tree, rows: Rows, header: _Seed, node: int) -> bool:
    """Whether a body is the last child of a sequence: it then stands outside that sequence."""
    return (
        header.node == tree.parent[node]
        and header.around >= 0
        and not header.hanging
        and not rows.starts[header.row] & OUTSIDE
        and tree.last(header.node) == tree.last(node)
    )


def _is_word(byte: int) -> bool:
    return byte > 127 or byte == 95 or chr(byte).isalnum()


def _keep_apart(plan: Plan, leaf_row: list[int], punctuation: frozenset[str]) -> None:
    """Give a blank to each pair of tokens that would be read as something else without one.

    Only pairs are looked at that stand close, the first of which may run on and the second of
    which may be run on to, as far as their kinds tell.
    """
    rows, texts, never = plan.rows, plan.tree.texts, plan.rows.never_joined
    runs_on, is_run_on = rows.runs_on, rows.is_run_on
    for token in compress(count(), map(rows.tight.__getitem__, plan.gap_row)):
        if not (token and runs_on[leaf_row[token - 1]] and is_run_on[leaf_row[token]]):
            continue
        left, right = texts[token - 1], texts[token]
        if not (left and right):
            continue
        edge = left[:1] + left[-1:] + right[:1]
        if edge in never:
            continue
        if _fuses(left, right, punctuation):
            plan.space[token] = 1
        elif _is_word(left[-1]) or _is_word(right[0]):
            never.add(edge)


def _fuses(left: bytes, right: bytes, punctuation: frozenset[str]) -> bool:
    if not (left and right):
        return False
    if _is_word(left[-1]):
        return _is_word(right[0]) or (right[:1] == b"." and left[:1].isdigit())
    both = (left + right).decode("utf-8", "replace")
    length = len(left.decode("utf-8", "replace"))
    return any(len(token) > length and both.startswith(token) for token in punctuation)


def _nest(plan: Plan) -> None:
    """Find which groups must open and which are fixed."""
    groups = plan.groups
    if not groups:
        return
    root = groups[0]
    root.hard = root.must_open = root.fixed = True
    root.first, root.end = 0, len(plan.space)
    live = range(1, len(groups))
    for number in live:
        group = groups[number]
        if group.forced or group.wrap == "stack-always":
            group.hard = group.must_open = True
            group.bulky = group.wrap == "stack-always" or not group.forced <= plan.asked
    shortened: set[int] = set()  # heads that begin behind a new line within them
    for token, (number, by_comment) in list(plan.lines.items()):
        while number:
            group = groups[number]
            if group.part_of(token) or group.hanging:
                _harden(plan, number, token, True, False)
                break
            group.first = max(group.first, token)
            shortened.add(number)
            number = group.around
        plan.lines[token] = (number, by_comment)
    if shortened:
        for number in live:
            group = groups[number]
            while group.around in shortened and group.gaps[0] < groups[group.around].first:
                group.around = groups[group.around].around
    for number in reversed(live):
        group = groups[number]
        outer = groups[group.around]
        if outer.gaps and outer.first == group.first and outer.parts[0] == group.parts[0] == MID:
            outer.headed = True
        if group.must_open and group.needs >= 0:
            groups[group.needs].hard = groups[group.needs].must_open = True
        if group.hard:
            _harden(plan, group.around, group.first, group.bulky, True)
            around = groups[group.around]
            if around.must_open and around.bulky and around.wrap == "flow" and not around.forced:
                around.wrap = "stack"  # items of many lines do not flow
    for number in live:
        group = groups[number]
        around = groups[group.around]
        if around.inner:
            around.inner.append(number)  # in order, since groups are numbered in text order
        else:
            around.inner = [number]
        if group.must_open:
            group.fixed = around.fixed and _is_plain(group)


def _is_plain(group: Group) -> bool:
    """Whether an opened group breaks at known gaps to known indents."""
    if group.headed and group.style["indent"].value != "none":
        return False  # the operators of the first operand stand further in
    return group.wrap in ("stack", "stack-always") and (group.hanging or opens_plainly(group.style))


def _harden(plan: Plan, number: int, token: int, is_bulky: bool, is_free: bool) -> None:
    """Something at this token cannot stand on one line: what of the group around it?

    is_free: it may be opened without brackets that the group around it may bring.
    """
    group = plan.groups[number]
    if number == 0:
        return
    group.hard = True
    group.bulky |= is_bulky  # first, since what stands before the first gap then may open
    stays_closed = plan.tree.is_sealed and (group.own or group.needs >= 0)
    if not (group.own and is_free or may_open_inside(plan, group, group.part_of(token))):
        group.must_open = not stays_closed


def may_open_inside(plan: Plan, group: Group, part: int) -> bool:
    """Whether what stands in a part may open while the group stays closed."""
    if part == 0 and group.bulky:
        return True
    last_part = len(group.gaps) - (1 if group.parts[-1] == CLOSE else 0)
    is_line = group.hanging and group.style["hang"].value != "fits"
    grant = "all" if is_line else group.style["grant"].value
    if grant == "all" or (grant == "last" and part == last_part):
        return True
    if part > last_part or not part:
        return False
    token = group.gaps[part - 1]
    cling = plan.rows.style[plan.row[plan.tree.gap_right(token)]]["cling"].value
    if cling == "sole":
        return last_part == 1
    return cling == "any" or (cling == "last" and part == last_part)


__all__ = ["Group", "Plan", "may_open_inside", "plan"]
