"""Sequences and the gaps they own, for one tree.

A *group* is a sequence as it occurs in a file: a run of tokens with the gaps
that are broken together. Groups nest. A group that must open (a body; a list
around a line comment) with only such groups around it is *fixed*: its lines
and indents are known before anything is measured, and they cut the file into
segments that are fitted one by one.
"""

from __future__ import annotations

from bisect import bisect_right
from dataclasses import dataclass

from stilo.layout.gaps import ALWAYS, CLOSE, EMPTY, HANGING, MID, NONE, OPEN, SEQUENCE, Gap, Rows
from stilo.sheet.cascade import Style
from stilo.tree.flat import Tree


# Shared by groups that have none; never added to.
_NONE: list[int] = []
_NO_TOKENS: set[int] = set()


class Group:
    """A sequence: its node, style, and the gaps it owns with their parts.

    first, end: its tokens. around: number of the group around it. A gap is named by the token
    after it. forced: gaps that are new lines whatever fits. hard: the group cannot stand on one
    line; must_open: nor can it stay closed. inner: the groups directly in it, in order.
    """

    __slots__ = (
        "node", "style", "around", "hanging", "wrap", "first", "end", "gaps", "parts", "forced",
        "hard", "must_open", "fixed", "inner",
    )

    def __init__(self, node: int, style: Style, around: int, hanging: bool) -> None:
        self.node = node
        self.style = style
        self.around = around
        self.hanging = hanging
        if hanging:
            self.wrap = "stack-always" if style["hang"].value == "line" else "stack"
        else:
            self.wrap = str(style["wrap"].value)
        self.first = self.end = -1  # filled in once it has a gap
        self.gaps = self.parts = self.inner = _NONE
        self.forced: set[int] = _NO_TOKENS
        self.hard = self.must_open = self.fixed = False

    def part_of(self, token: int) -> int:
        """How many of the group's gaps lie at or before a token."""
        return bisect_right(self.gaps, token)


@dataclass(frozen=True)
class Plan:
    """All that is decided of a file before measuring.

    row: per node, its row in `rows`. gap: per token, the index in `rows.gaps` of the gap before
    it. space: per token, blanks before it when no line breaks there. lines: gaps that are new
    lines in no sequence, with the innermost group and whether a comment asks for it. blanks: least
    blank lines where more than none. trailing: comments that end a line of code.
    """

    tree: Tree
    rows: Rows
    row: list[int]
    gap: list[int]
    space: list[int]
    groups: list[Group]
    lines: dict[int, tuple[int, bool]]
    blanks: dict[int, int]
    trailing: set[int]
    comments: list[int]


def plan(tree: Tree, rows: Rows, punctuation: frozenset[str]) -> Plan:
    """Decide each gap of a tree as far as its kind goes, and form the groups."""
    row, group_of, hang_of, groups = _match(tree, rows)
    gap_column, comment_column = rows.gap, rows.comment
    right = [0] + [node + 1 for node in tree.token_node[:-1]]
    gap = [gap_column[row[node]] for node in right]
    gaps = rows.gaps
    comments = [t for t, node in enumerate(tree.token_node) if comment_column[row[node]]]
    spaces = [g.space for g in gaps]
    space = [spaces[g] for g in gap]
    if space:
        space[0] = 0
    result = Plan(tree, rows, row, gap, space, groups, {}, {}, set(), comments)
    _keep_apart(result, punctuation)
    owner = _Owner(tree, gaps, gap, group_of, hang_of, right, row)
    around_comments = _place_comments(result, owner)
    special = [g.part not in (NONE, EMPTY) or g.line for g in gaps]
    breaks = [t for t, g in enumerate(gap) if special[g]]
    if around_comments:
        breaks = sorted({*breaks, *around_comments})
    parent, lines, blanks = tree.parent, result.lines, result.blanks
    for token in breaks:
        if not token:
            continue
        event = around_comments.get(token)
        if event is None:
            decided = gaps[gap[token]]
            node = right[token]
            part, forced, blank = decided.part, decided.line, decided.blank
            number = hang_of[node] if decided.of_right else group_of[parent[node]]
            by_comment = False
        else:
            part, forced, blank, number, by_comment = event
        if part in (NONE, EMPTY):
            if forced:
                lines[token] = (number, by_comment)
                if blank:
                    blanks[token] = blank
            continue
        group = groups[number]
        if group.gaps:
            group.gaps.append(token)
            group.parts.append(part)
        else:
            group.gaps = [token]
            group.parts = [part]
        if forced:
            if group.forced:
                group.forced.add(token)
            else:
                group.forced = {token}
        if blank:
            blanks[token] = blank
    _nest(result)
    return result


def _match(tree: Tree, rows: Rows) -> tuple[list[int], list[int], dict[int, int], list[Group]]:
    """Give each node its row and its innermost group; the automaton's inner loop."""
    table, arounds, besides = rows.table, rows.around, rows.beside
    starts, comment = rows.starts, rows.comment
    outside = rows.cascade.states[rows.cascade.outside]
    groups = [Group(0, rows.cascade.styles[0], -1, False)]
    row: list[int] = []
    around_of: list[int] = []
    group_of: list[int] = []
    hang_of: dict[int, int] = {}
    beside_of = [outside.beside] * len(tree.kind)  # per parent, of its last child so far
    field_of = tree.field
    for node, (kind, parent) in enumerate(zip(tree.kind, tree.parent)):
        if node:
            around, beside, group = around_of[parent], beside_of[parent], group_of[parent]
        else:
            around, beside, group = outside.around, outside.beside, 0
        if node in field_of:
            kind |= field_of[node] << 16
        found = table.get((around, beside, kind))
        if found is None:
            found = rows.row(around, beside, kind & 0xFFFF, kind >> 16, tree, node)
        row.append(found)
        around_of.append(arounds[found])
        if not comment[found]:
            beside_of[parent] = besides[found]
        begins = starts[found]
        if begins:
            style = rows.style[found]
            if begins & HANGING:
                groups.append(Group(node, style, group, True))
                group = hang_of[node] = len(groups) - 1
            if begins & SEQUENCE:
                if begins & ALWAYS and node and _ends_header(tree, groups[group], node):
                    groups[group].end = tree.first(node)
                    group = groups[group].around
                groups.append(Group(node, style, group, False))
                group = len(groups) - 1
        group_of.append(group)
    return row, group_of, hang_of, groups


def _ends_header(tree: Tree, header: Group, node: int) -> bool:
    """Whether a body is the last child of a sequence: it then stands outside that sequence."""
    return (
        not header.hanging
        and header.node == tree.parent[node]
        and header.wrap != "stack-always"
        and tree.last(header.node) == tree.last(node)
    )


def _is_word(byte: int) -> bool:
    return byte > 127 or byte == 95 or chr(byte).isalnum()


def _keep_apart(plan: Plan, punctuation: frozenset[str]) -> None:
    """Give a blank to each pair of tokens that would be read as something else without one."""
    tree, rows, space = plan.tree, plan.rows, plan.space
    data, starts, ends = tree.data, tree.token_start, tree.token_end
    tight = [g.space == 0 and not g.glued for g in rows.gaps]
    closed = [t for t, g in enumerate(plan.gap) if tight[g] and t]
    pairs = [data[ends[t - 1] - 1] << 8 | data[starts[t]] for t in closed]
    known = rows.fusing
    for pair in set(pairs):
        if pair not in known:
            known[pair] = _may_fuse(pair >> 8, pair & 255, punctuation)
    risky = {pair for pair in set(pairs) if known[pair]}
    if not risky:
        return
    for token, pair in zip(closed, pairs):
        if pair in risky and _fuses(
            tree.token_text(token - 1), tree.token_text(token), punctuation
        ):
            space[token] = 1


def _may_fuse(a: int, b: int, punctuation: frozenset[str]) -> bool:
    if _is_word(a) and _is_word(b):
        return True
    if _is_word(a):
        return chr(a).isdigit() and b == 46
    return any(chr(a) + chr(b) in token for token in punctuation)


def _fuses(left: bytes, right: bytes, punctuation: frozenset[str]) -> bool:
    if _is_word(left[-1]):
        return _is_word(right[0]) or left[0:1].isdigit()
    both = (left + right).decode("utf-8", "replace")
    length = len(left.decode("utf-8", "replace"))
    return any(len(token) > length and both.startswith(token) for token in punctuation)


@dataclass(frozen=True)
class _Owner:
    """What is needed to say whose a gap is."""

    tree: Tree
    gaps: list[Gap]
    gap: list[int]
    group_of: list[int]
    hang_of: dict[int, int]
    right: list[int]
    row: list[int]

    def at(self, token: int) -> tuple[Gap, int]:
        """The gap before a token and the number of the group that owns it."""
        decided, node = self.gaps[self.gap[token]], self.right[token]
        number = self.hang_of[node] if decided.of_right else self.group_of[self.tree.parent[node]]
        return decided, number


_Event = tuple[int, bool, int, int, bool]  # part, forced, least blanks, group, by a comment


def _place_comments(plan: Plan, owner: _Owner) -> dict[int, _Event]:
    """The gaps around comments.

    A comment stands behind code on its line (trailing), on a line of its own,
    or within a line; it keeps that. The break that belongs between the code
    before and the code after goes behind the trailing comments.
    """
    tree, comment_of, row = plan.tree, plan.rows.comment, plan.row
    count = len(tree.token_node)
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
            (t for t in range(start, stop) if not comment_of[row[owner.right[t]]] and t), stop
        )
        if structural < count and structural:
            decided, number = owner.at(structural)
            part, forced, blank = decided.part, decided.line, decided.blank
        else:
            part, forced, blank, number = MID, True, 0, 0
        _comment_run(plan, events, start, stop, (part, forced, blank, number))
    return events


def _comment_run(
    plan: Plan, events: dict[int, _Event], start: int, stop: int, base: tuple[int, bool, int, int]
) -> None:
    tree = plan.tree
    part, forced, blank, number = base
    count = len(tree.token_node)
    newline_before = [b"\n" in tree.between[t] for t in range(start, stop + 1)]
    if start == 0:
        newline_before[0] = True
    if stop == count:
        newline_before[-1] = True
    line_comment = [_is_line_comment(plan, t) for t in range(start, stop)]
    trailing = 0
    while start + trailing < stop and not newline_before[trailing]:
        if not (line_comment[trailing] or newline_before[trailing + 1]):
            break
        plan.trailing.add(start + trailing)
        trailing += 1
    main = start + trailing  # the gap that takes the break proper
    for token in range(start, stop + 1):
        if token == count or token == 0:
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
            events[token] = (role, forced or must, blank, number, must)
        elif token == stop and part in (CLOSE, EMPTY):
            events[token] = (CLOSE if must else NONE, must, 0, number, must)
        elif must:
            events[token] = (MID if part != NONE else NONE, True, 0, number, True)
        else:
            events[token] = (NONE, False, 0, number, False)
        plan.space[token] = 1


def _is_line_comment(plan: Plan, token: int) -> bool:
    style = plan.rows.style[plan.row[plan.tree.token_node[token]]]
    return style["comment"].value == "line"


def _nest(plan: Plan) -> None:
    """Drop groups without gaps, find which must open and which are fixed."""
    groups, tree = plan.groups, plan.tree
    root = groups[0]
    root.hard = root.must_open = root.fixed = True
    root.first, root.end = 0, len(tree.token_node)
    for group in groups:
        if group.gaps:
            group.first = min(tree.first(group.node), group.gaps[0])
            if group.end < 0:
                group.end = tree.last(group.node) + 1
            if group.wrap == "stack-always" or group.forced:
                group.hard = group.must_open = True
        if group.around > 0 and not groups[group.around].gaps:
            group.around = groups[group.around].around  # whose own is dropped already
    for token, (number, by_comment) in list(plan.lines.items()):
        while not groups[number].gaps and number:
            number = groups[number].around
        while number:
            group = groups[number]
            if group.part_of(token) or group.hanging:
                _harden(plan, number, token)
                break
            group.first = max(group.first, token)
            number = group.around
        plan.lines[token] = (number, by_comment)
    for number in range(len(groups) - 1, 0, -1):
        group = groups[number]
        if group.hard and group.gaps:
            _harden(plan, group.around, group.first)
    for number, group in enumerate(groups):
        if not number or not group.gaps:
            continue
        around = groups[group.around]
        if around.inner:
            around.inner.append(number)
        else:
            around.inner = [number]
        group.fixed = around.fixed and group.must_open and _is_plain(group)
    for group in groups:
        if len(group.inner) > 1:
            group.inner.sort(key=lambda n: groups[n].first)


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
