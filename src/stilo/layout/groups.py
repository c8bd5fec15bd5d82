"""Sequences and the gaps they own, for one tree.

A *group* is a sequence as it occurs in a file: a run of tokens with the gaps
that are broken together. Groups nest. A group that must open (a body; a list
around a line comment) with only such groups around it is *fixed*: its lines
and indents are known before anything is measured, and they cut the file into
segments that are fitted one by one.
"""

from __future__ import annotations

from bisect import bisect_right
from dataclasses import dataclass, field
from itertools import compress, count
from operator import and_

from stilo.layout.gaps import CLOSE, EMPTY, HANGING, MID, NONE, OPEN, OUTSIDE, SEQUENCE, Gap, Rows
from stilo.sheet.cascade import Style
from stilo.tree.flat import Tree


_Event = tuple[int, bool, int, int, bool]  # part, forced, least blanks, group, by a comment
# How a hanging node is wrapped.
_HANGS = {"line": "stack-always", "soft": "stack"}
# Shared by groups that have none; never added to.
_NONE: list[int] = []
_NO_TOKENS: set[int] = set()


class Group:
    """A sequence: its node, style, and the gaps it owns with their parts.

    first, end: its tokens. around: number of the group around it. A gap is named by the token
    after it. forced: gaps that are new lines whatever fits. hard: the group cannot stand on one
    line; must_open: nor can it stay closed. inner: the groups directly in it, in order.
    """

    _first = _end = -1  # found when first asked for
    gaps = parts = inner = _NONE
    forced = _NO_TOKENS
    hard = must_open = fixed = False

    def __init__(
        self, tree: Tree, node: int, style: Style, wrap: str, around: int, hanging: bool
    ) -> None:
        self.tree = tree
        self.node = node
        self.style = style
        self.wrap = wrap
        self.around = around
        self.hanging = hanging

    @property
    def first(self) -> int:
        """Its first token; where it hangs behind a comment, that comment."""
        if self._first < 0:
            self._first = min(self.tree.first(self.node), self.gaps[0])
        return self._first

    @first.setter
    def first(self, token: int) -> None:
        self._first = token

    @property
    def end(self) -> int:
        """The token after its last one."""
        if self._end < 0:
            self._end = self.tree.last(self.node) + 1
        return self._end

    @end.setter
    def end(self, token: int) -> None:
        self._end = token

    def part_of(self, token: int) -> int:
        """How many of the group's gaps lie at or before a token."""
        return bisect_right(self.gaps, token)


@dataclass(frozen=True)
class Plan:
    """All that is decided of a file before measuring.

    gap_row: per token, the row in `rows` of the node that the gap before it leads to. space: per
    token, blanks before it when no line breaks there. lines: gaps that are new lines in no
    sequence, with the innermost group and whether a comment asks for it. blanks: least blank
    lines where more than none. comments, opaque: tokens that are comments; that may hold line
    ends. trailing: comments that end a line of code.
    """

    tree: Tree
    rows: Rows
    row: list[int]
    gap_row: list[int]
    space: list[int]
    groups: list[Group]
    comments: list[int]
    opaque: list[int]
    lines: dict[int, tuple[int, bool]] = field(default_factory=dict)
    blanks: dict[int, int] = field(default_factory=dict)
    trailing: set[int] = field(default_factory=set)

    def gap(self, token: int) -> Gap:
        """What the sheet says of the gap before a token."""
        return self.rows.gap[self.gap_row[token]]


def plan(tree: Tree, rows: Rows, punctuation: frozenset[str]) -> Plan:
    """Decide each gap of a tree as far as its kind goes, and form the groups."""
    matched = _match(tree, rows)
    row, group_of, groups = matched.row, matched.group_of, matched.groups
    # Columns over all tokens are built by maps over C functions: twice the speed of a loop.
    gap_row = row[:1]
    gap_row += map(row[1:].__getitem__, tree.token_node[:-1])  # of the node behind each leaf
    space = list(map(rows.space.__getitem__, gap_row))
    if space:
        space[0] = 0
    leaf_row = list(map(row.__getitem__, tree.token_node))
    opaque = list(compress(count(), map(rows.opaque.__getitem__, leaf_row)))
    comments = [token for token in opaque if rows.comment[leaf_row[token]]]
    result = Plan(tree, rows, row, gap_row, space, groups, comments, opaque)
    _keep_apart(result, leaf_row, punctuation)
    around_comments = _place_comments(result, matched)
    part_of = list(map(rows.plain_part.__getitem__, gap_row))
    for token in around_comments:
        if token < len(part_of):
            part_of[token] = NONE
    breaks = compress(count(), part_of)
    nodes = map(tree.token_node.__getitem__, compress(count(-1), part_of))
    owners = map(group_of.__getitem__, map(tree.parent[1:].__getitem__, nodes))
    gaps_of: list[list[int]] = [[] for _ in groups]
    parts_of: list[list[int]] = [[] for _ in groups]
    for number, token in zip(owners, breaks):
        gaps_of[number].append(token)
        parts_of[number].append(part_of[token])
    for group, gaps, parts in zip(groups, gaps_of, parts_of):
        if gaps:
            group.gaps, group.parts = gaps, parts
    others = compress(count(), map(rows.needs_care.__getitem__, gap_row))
    disturbed: set[int] = set()
    for token in sorted({*others, *around_comments}):
        _take_in(result, matched, around_comments, token, disturbed)
    for number in disturbed:
        group = groups[number]
        pairs = sorted(zip(group.gaps, group.parts))
        group.gaps = [token for token, _ in pairs]
        group.parts = [part for _, part in pairs]
    _nest(result)
    return result


def _take_in(
    plan: Plan,
    matched: _Matched,
    around_comments: dict[int, _Event],
    token: int,
    disturbed: set[int],
) -> None:
    """Note a gap that is more than a place where its sequence may break.

    disturbed: takes the groups whose gaps are then out of order.
    """
    if not token:
        return
    if token in around_comments:
        part, forced, blank, number, by_comment = around_comments[token]
    else:
        gap = plan.gap(token)
        part, forced, blank, by_comment = gap.part, gap.line, gap.blank, False
        node = plan.tree.gap_right(token)
        number = matched.owner(plan.tree, node, gap)
    if blank:
        plan.blanks[token] = blank
    if part == NONE or part == EMPTY:
        if forced:
            plan.lines[token] = (number, by_comment)
        return
    group = plan.groups[number]
    if not group.gaps:
        group.gaps, group.parts = [], []
    elif group.gaps[-1] > token:
        disturbed.add(number)
    group.gaps.append(token)
    group.parts.append(part)
    if forced:
        group.forced = group.forced or set()
        group.forced.add(token)


@dataclass(frozen=True)
class _Matched:
    """Per node its row and innermost group; the groups; the group of each node that hangs."""

    row: list[int]
    group_of: list[int]
    groups: list[Group]
    hang_of: dict[int, int]

    def owner(self, tree: Tree, node: int, gap: Gap) -> int:
        """The number of the group that a gap belongs to, which leads to a node."""
        return self.hang_of[node] if gap.of_right else self.group_of[tree.parent[node]]


def _match(tree: Tree, rows: Rows) -> _Matched:
    """Give each node its row and its innermost group; the automaton's inner loop."""
    groups = [Group(tree, 0, rows.cascade.styles[0], "none", -1, False)]
    if not tree.kind:
        return _Matched([], [], groups, {})
    look_up, arounds, besides, special = rows.table.get, rows.around, rows.beside, rows.special
    outside = rows.cascade.states[rows.cascade.outside]
    row: list[int] = []
    beside_of = [outside.beside] * len(tree.kind)  # per parent, of its last child so far
    group_of: list[int] = []
    hang_of: dict[int, int] = {}
    add_row, add_group = row.append, group_of.append
    kinds = tree.kind
    if tree.field:
        kinds = list(kinds)
        for node, number in tree.field.items():
            kinds[node] |= number << 16
    # What holds for the family at hand; most nodes follow their previous sibling.
    current, around, beside, shared = -1, outside.around, outside.beside, 0
    for node, (kind, parent) in enumerate(zip(kinds, tree.parent)):
        if parent != current:
            beside_of[current] = beside
            current = parent
            around, beside, shared = arounds[row[parent]], beside_of[parent], group_of[parent]
        key = (around, beside, kind)
        found = look_up(key)
        if found is None:
            found = rows.row(key, tree, node)
        add_row(found)
        if not special[found]:
            beside = besides[found]
            add_group(shared)
            continue
        if not rows.comment[found]:
            beside = besides[found]
        group = shared
        begins = rows.starts[found]
        style = rows.style[found]
        if begins & OUTSIDE and _ends_header(tree, groups[group], node):
            groups[group].end = tree.first(node)
            group = groups[group].around
        if begins & HANGING:
            groups.append(Group(tree, node, style, _HANGS[str(style["hang"].value)], group, True))
            group = hang_of[node] = len(groups) - 1
        if begins & SEQUENCE:
            groups.append(Group(tree, node, style, rows.wrap[found], group, False))
            group = len(groups) - 1
        add_group(group)
    return _Matched(row, group_of, groups, hang_of)


def _ends_header(tree: Tree, header: Group, node: int) -> bool:
    """Whether a body is the last child of a sequence: it then stands outside that sequence."""
    return (
        node > 0
        and not header.hanging
        and header.node == tree.parent[node]
        and header.wrap != "stack-always"
        and tree.last(header.node) == tree.last(node)
    )


def _is_word(byte: int) -> bool:
    return byte > 127 or byte == 95 or chr(byte).isalnum()


def _keep_apart(plan: Plan, leaf_row: list[int], punctuation: frozenset[str]) -> None:
    """Give a blank to each pair of tokens that would be read as something else without one.

    Only pairs are looked at that stand close, the first of which may run on and the second of
    which may be run on to, as far as their kinds tell.
    """
    tree, rows = plan.tree, plan.rows
    runs_on = map(rows.runs_on.__getitem__, leaf_row)
    is_run_on = map(rows.is_run_on.__getitem__, leaf_row)
    is_tight = map(rows.tight.__getitem__, plan.gap_row)
    next(is_run_on, None)
    next(is_tight, None)
    texts, never = tree.texts, rows.never_joined
    for token in compress(count(1), map(and_, map(and_, runs_on, is_run_on), is_tight)):
        left, right = texts[token - 1], texts[token]
        edge = left[:1] + left[-1:] + right[:1]
        if edge in never:
            continue
        if _fuses(left, right, punctuation):
            plan.space[token] = 1
        elif _is_word(left[-1]) or _is_word(right[0]):
            never.add(edge)


def _fuses(left: bytes, right: bytes, punctuation: frozenset[str]) -> bool:
    if _is_word(left[-1]):
        return _is_word(right[0]) or (right[:1] == b"." and left[:1].isdigit())
    both = (left + right).decode("utf-8", "replace")
    length = len(left.decode("utf-8", "replace"))
    return any(len(token) > length and both.startswith(token) for token in punctuation)


def _place_comments(plan: Plan, matched: _Matched) -> dict[int, _Event]:
    """The gaps around comments.

    A comment stands behind code on its line (trailing), on a line of its own,
    or within a line; it keeps that. The break that belongs between the code
    before and the code after goes behind the trailing comments.
    """
    tree, is_comment = plan.tree, plan.rows.comment
    total = len(tree.token_node)
    events: dict[int, _Event] = {}
    position = 0
    comments = plan.comments
    while position < len(comments):
        start = comments[position]
        stop = start
        while position < len(comments) and comments[position] == stop:
            stop += 1
            position += 1
        structural = next(
            (t for t in range(start, stop) if t and not is_comment[plan.gap_row[t]]), stop
        )
        if 0 < structural < total:
            decided = plan.gap(structural)
            node = tree.gap_right(structural)
            number = matched.owner(tree, node, decided)
            base = (decided.part, decided.line, decided.blank, number)
        else:
            whole_file = matched.group_of[0]
            base = (MID if whole_file else NONE, True, 0, whole_file)
        _comment_run(plan, events, start, stop, base)
    return events


def _comment_run(
    plan: Plan, events: dict[int, _Event], start: int, stop: int, base: tuple[int, bool, int, int]
) -> None:
    tree = plan.tree
    part, forced, blank, number = base
    total = len(tree.token_node)
    newline_before = [b"\n" in tree.between(t) for t in range(start, stop + 1)]
    if start == 0:
        newline_before[0] = True
    if stop == total:
        newline_before[-1] = True
    line_comment = [_is_line_comment(plan, t) for t in range(start, stop)]
    trailing = 0
    while start + trailing < stop and not newline_before[trailing]:
        if not (line_comment[trailing] or newline_before[trailing + 1]):
            break
        plan.trailing.add(start + trailing)
        trailing += 1
    main = start + trailing  # the gap that takes the break proper
    resumes = forced or (stop < total and _stands_at_base(plan, stop))
    for token in range(start, stop + 1):
        if token == total or token == 0:
            continue
        index = token - start
        after_line = index > 0 and (line_comment[index - 1] or newline_before[index])
        own_line = index < stop - start and newline_before[index]
        must = after_line or own_line
        if token < main:
            events[token] = (NONE, False, 0, number, False)
        elif token == main:
            is_last = token == stop
            role = part
            if part == CLOSE and not is_last and must:
                role = MID
            if part == EMPTY:
                role = NONE if not must else (CLOSE if is_last else OPEN)
            events[token] = (role, forced or must, blank, number, must and not resumes)
        elif token == stop and part in (CLOSE, EMPTY):
            events[token] = (CLOSE if must else NONE, must, 0, number, must)
        elif must:
            events[token] = (MID if part != NONE else NONE, True, 0, number, not resumes)
        else:
            events[token] = (NONE, False, 0, number, False)
        tight = stop < total and plan.space[stop] == 0
        behind_opener = token == start and part == OPEN and not trailing
        before_closer = token == stop and part != OPEN
        if not (tight and (behind_opener or before_closer)):
            plan.space[token] = 1


def _stands_at_base(plan: Plan, token: int) -> bool:
    """Whether what begins at a token is set under the begin of its construct on a new line."""
    style = plan.rows.style[plan.gap_row[token]]
    return style["indent"].value == "none" or style["brace"].value != "auto"


def _is_line_comment(plan: Plan, token: int) -> bool:
    style = plan.rows.style[plan.row[plan.tree.token_node[token]]]
    return style["comment"].value == "line"


def _nest(plan: Plan) -> None:
    """Drop groups without gaps, find which must open and which are fixed."""
    groups = plan.groups
    root = groups[0]
    root.hard = root.must_open = root.fixed = True
    root.first, root.end = 0, len(plan.space)
    live: list[int] = []
    for number, group in enumerate(groups):
        if group.around > 0 and not groups[group.around].gaps:
            group.around = groups[group.around].around  # whose own is dropped already
        if not group.gaps:
            continue
        live.append(number)
        if group.forced or group.wrap == "stack-always":
            group.hard = group.must_open = True
    shortened: set[int] = set()  # heads that begin behind a new line within them
    for token, (number, by_comment) in list(plan.lines.items()):
        while not groups[number].gaps and number:
            number = groups[number].around
        while number:
            group = groups[number]
            if group.part_of(token) or group.hanging:
                _harden(plan, number, token)
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
        if group.hard:
            _harden(plan, group.around, group.first)
            around = groups[group.around]
            if around.must_open and around.wrap == "flow" and not around.forced:
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
    if group.wrap == "stack-always":
        return True
    style = group.style
    return (
        group.wrap == "stack"
        and style["keep"].value == "none"
        and style["align"].value == "no"
        and style["open"].value == "break"
        and style["shelf"].value == "no"
    )


def _harden(plan: Plan, number: int, token: int) -> None:
    """Something at this token cannot stand on one line: what of the group around it?"""
    group = plan.groups[number]
    if number == 0:
        return
    group.hard = True  # first, since what stands before the first gap then may open
    if not may_open_inside(plan, group, group.part_of(token)):
        group.must_open = True


def may_open_inside(plan: Plan, group: Group, part: int) -> bool:
    """Whether what stands in a part may open while the group stays closed."""
    if part == 0 and group.hard:
        return True
    last_part = len(group.gaps) - (1 if group.parts[-1] == CLOSE else 0)
    grant = group.style["grant"].value if not group.hanging else "all"
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
