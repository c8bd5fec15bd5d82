"""The gaps around comments: where a comment stands, and where the break beside it goes."""

from __future__ import annotations

from stilo.layout.gaps import CLOSE, EMPTY, MID, NONE, OPEN
from stilo.layout.match import Matched
from stilo.layout.plan import MARK, Plan
from stilo.tree.flat import Tree

#: What becomes of a gap: its part, whether it is forced, least blank lines, the seed that owns
#: it, whether a comment forces it.
Event = tuple[int, bool, int, int, bool]


def place_comments(plan: Plan, matched: Matched, tab: int) -> dict[int, Event]:
    """The gaps around comments.

    A comment stands after code on its line (trailing), on a line of its own,
    or within a line; it keeps that. The break that belongs between the code
    before and the code after goes after the trailing comments.
    """
    tree, is_comment = plan.tree, plan.rows.comment
    total = len(tree.token_node)
    events: dict[int, Event] = {}
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
            whole_file = matched.innermost(tree, 0) if matched.group_of else 0
            base = (MID if whole_file else NONE, True, 0, whole_file)
        if _takes_break(plan, events, start, stop, base):
            # The sign stays on the line that the comment ends.
            events[start - 1] = (NONE, False, 0, base[3], False)
            base = (MID, True, base[2], base[3])
        if any(is_directive(plan, token) for token in range(start, stop)):
            base = (base[0], base[1], 0, base[3])  # its author set the blank lines around it
        _comment_run(plan, events, start, stop, base)
        _keep_inside(plan, matched, events, start, stop, tab)
    return events


def _takes_break(
    plan: Plan, events: dict[int, Event], start: int, stop: int, base: tuple[int, bool, int, int]
) -> bool:
    """Whether comments end a line after a sign before which the sequence would break."""
    tree, sign = plan.tree, start - 1
    if base[0] != NONE or base[1] or sign < 1 or stop >= len(tree.token_node):
        return False
    is_same = tree.parent[tree.gap_right(sign)] == tree.parent[tree.gap_right(stop)]
    return (
        is_same
        and sign not in events
        and plan.gap(sign).part == MID
        and b"\n" not in tree.between(start)
        and (
            is_line_comment(plan, stop - 1)
            or any(b"\n" in text for text in tree.texts[start:stop])
            or b"\n" in tree.between(stop)
        )
    )


def _keep_inside(
    plan: Plan, matched: Matched, events: dict[int, Event], start: int, stop: int, tab: int
) -> None:
    """Leave comments with the items before them that stand further in than these items' head.

    Where a sequence ends without a delimiter, nothing but their column says where they belong. tab: columns
    that a tab takes, if the head stands on the line of a brace.
    """
    tree, leaf = plan.tree, plan.tree.token_node
    if plan.rows.has_suites:
        _keep_in_suites(plan, matched, events, start, stop)
    home = matched.innermost(tree, leaf[start - 1]) if start else 0
    if not home:
        return
    seed = matched.seeds[home]
    style = plan.rows.style[seed.row]
    if (
        (style["wrap"].value, style["indent"].value) != ("stack-always", "block")
        or tree.last(seed.node) != start - 1
        or plan.gap(start - 1).part in (CLOSE, EMPTY)
    ):
        return
    first_of_all = tree.first(seed.node)
    column = (
        source_column
        if tree.begins_line(first_of_all)
        else lambda tree, token: tree.column(token, tab)
    )
    head = column(tree, first_of_all)
    token = start
    while token < stop and (token in plan.trailing or column(tree, token) > head):
        token += 1
    first = next((t for t in range(start, token) if t not in plan.trailing), stop)
    if first >= token:
        return
    part, forced, blank, number, by_comment = events[first]
    for kept in range(first, token):
        if b"\n" in tree.between(kept):
            events[kept] = (MID, True, 0, home, True)
    if token < stop or (stop in events and events[stop][0] != CLOSE):
        events[token] = (part, forced, blank, number, by_comment)


def _keep_in_suites(
    plan: Plan, matched: Matched, events: dict[int, Event], start: int, stop: int
) -> None:
    """Leave comments where the tree has them that end a hanging sequence of lines.

    Such a sequence ends without a delimiter, and the grammar itself goes by their columns.
    """
    tree = plan.tree
    homes: dict[int, int] = {}
    for token in range(start, stop):
        node = tree.parent[tree.token_node[token]]
        style = plan.rows.style[plan.row[node]]
        is_suite = (style["hang"].value, style["wrap"].value) == ("line", "stack-always")
        if is_suite and tree.first(node) < start and tree.last(node) < stop:
            if token not in plan.trailing:
                homes[token] = matched.innermost(tree, tree.token_node[token])
    if not homes:
        return
    first, behind = min(homes), max(homes) + 1
    role = events[first]
    for token in range(first, behind):
        events[token] = (MID, True, 0, homes.get(token, homes[max(homes)]), False)
    if behind in events or behind < len(tree.token_node):
        events[behind] = role


def source_column(tree: Tree, token: int) -> int:
    """How far in a token's line begins in the source.

    The widest tabs are assumed, which keeps the order of margins in any text with tabs before
    spaces, whatever its tabs take.
    """
    return len(before_on_line(tree, token).expandtabs(16))


def before_on_line(tree: Tree, token: int) -> bytes:
    """What stands before a token on its line: where backslashes join blank lines to it, on the first."""
    start = tree.token_start[token]
    lines = tree.between(token).split(b"\n")
    if len(lines) == 1:
        return tree.data[tree.data.rfind(b"\n", 0, start) + 1 : start]
    at = len(lines) - 1
    while at > 1 and lines[at - 1].endswith(b"\\"):
        at -= 1
    return lines[at].removesuffix(b"\\")


def _comment_run(
    plan: Plan, events: dict[int, Event], start: int, stop: int, base: tuple[int, bool, int, int]
) -> None:
    tree = plan.tree
    part, forced, blank, number = base
    total = len(tree.token_node)
    newline_before = [b"\n" in tree.between(t) for t in range(start, stop + 1)]
    if start == 0:
        newline_before[0] = True
    if stop == total:
        newline_before[-1] = True
    # Where each has lines of its own, nothing depends on which of them end one.
    is_apart = all(newline_before)
    ends_line = newline_before[1:] if is_apart else _ending_lines(plan, start, stop, newline_before)
    if (
        0 < start
        and stop < total
        and newline_before[0]
        and not any(newline_before[1:])
        and not ends_line[-1]
        and not (part == CLOSE and _is_firm(plan, stop))
        and not any(
            token in plan.bound_set or MARK in tree.texts[token] for token in range(start, stop)
        )
    ):
        newline_before[0] = False  # code follows on their line, which they stand within
    if part == EMPTY and ends_line[-1] and plan.space[stop] == 0:
        if not is_line_comment(plan, stop - 1):
            newline_before[0] = True  # with brackets close to it, one of several lines gets lines of its own
    on_line = newline_before.index(True) if True in newline_before else len(newline_before)
    trailing = min(on_line, stop - start)
    ends_body = start + trailing == stop and part == CLOSE and _is_firm(plan, stop)
    if trailing and not (ends_line[trailing - 1] or newline_before[trailing] or ends_body):
        trailing = 0  # code follows on the line
    is_all = start + trailing == stop and not any(ends_line)
    if trailing and is_all and part == CLOSE and not _is_firm(plan, stop):
        # They would end a line or not as the list is opened or not, so they must count as code.
        newline_before[trailing] = False
        trailing = 0
    plan.trailing.update(range(start, start + trailing))
    main = start + trailing  # the gap that takes the break proper
    resumes = forced or (stop < total and _stands_at_base(plan, stop))
    for token in range(start, stop + 1):
        if token == total or token == 0:
            continue
        index = token - start
        after_line = index > 0 and (ends_line[index - 1] or newline_before[index])
        own_line = index < stop - start and newline_before[index]
        must = after_line or own_line
        if token < main:
            events[token] = (NONE, False, 0, number, False)
        elif token == main:
            is_last = token == stop
            role = part
            if part == CLOSE and not is_last:  # the comment belongs to the item before
                role = MID if must else NONE
            if part == EMPTY:
                role = NONE if not must else (CLOSE if is_last else OPEN)
            events[token] = (role, forced or must, blank, number, must and not resumes)
        elif token == stop and part == CLOSE:
            events[token] = (CLOSE, forced or must, 0, number, must)
        elif token == stop and part == EMPTY:
            events[token] = (CLOSE if must else NONE, must, 0, number, must)
        elif must:
            events[token] = (MID if part != NONE else NONE, True, 0, number, not resumes)
        else:
            events[token] = (NONE, False, 0, number, False)
        tight = stop < total and plan.space[stop] == 0
        if part == EMPTY and token in (start, stop) and not trailing:
            plan.space[token] = plan.gap(stop).apart
            continue
        behind_opener = token == start and part == OPEN and not trailing
        before_closer = token == stop and part != OPEN
        if not (tight and (behind_opener or before_closer)):
            plan.space[token] = 1


def _is_firm(plan: Plan, token: int) -> bool:
    return plan.rows.firm[plan.gap_row[token]]


def _stands_at_base(plan: Plan, token: int) -> bool:
    """Whether what begins at a token is set under the begin of its construct on a new line."""
    style = plan.rows.style[plan.gap_row[token]]
    return style["indent"].value == "none" or style["brace"].value != "auto"


def _ending_lines(plan: Plan, start: int, stop: int, newline_before: list[bool]) -> list[bool]:
    """Whether no code may stand after each comment on its line.

    It is a comment to the end of its line; or the last on a line where another of several lines ends:
    what stood after that would begin at a column that depends on where it did before.
    """
    texts = plan.tree.texts[start:stop]
    found = [is_line_comment(plan, token) for token in range(start, stop)]
    if b"\n" not in b"".join(texts):
        return found
    is_broken = False
    for index, (token, text) in enumerate(zip(range(start, stop), texts)):
        is_broken = b"\n" in text or (is_broken and not newline_before[index])
        is_last = token == stop - 1 or newline_before[index + 1]
        found[index] |= is_broken and is_last
    return found


def is_line_comment(plan: Plan, token: int) -> bool:
    """Whether a comment goes to the end of its line."""
    style = plan.rows.style[plan.row[plan.tree.token_node[token]]]
    return style["comment"].value in ("line", "directive")


def is_directive(plan: Plan, token: int) -> bool:
    """Whether a comment is a line for another program."""
    return plan.rows.directive[plan.row[plan.tree.token_node[token]]]
