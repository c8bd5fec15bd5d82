"""What the lines of a sequence say that its author gave it: which of them stay, and what stays closed around them."""

from __future__ import annotations

from bisect import bisect_left, bisect_right

from stilo.layout.gaps import CLOSE, MID, OPEN
from stilo.layout.groups import Group
from stilo.layout.plan import Plan

#: Rows below a first item that stands beside its bracket count if they spare at least so many lines.
SPARED = 3


def keep_stack(plan: Plan, group: Group) -> None:
    """Keep a list open that its author opened if each of two or more items begins a line; else let it close."""
    opening, has_remark = group.gaps[0], is_remarked(plan, group)
    is_asked = opening in plan.asked or has_remark
    if not is_asked or group.parts[0] != OPEN or group.style["line-most"].value:
        return
    find, starts, ends = plan.tree.data.find, plan.tree.token_start, plan.tree.token_end
    between = [token for token, part in zip(group.gaps, group.parts) if part == MID]
    if between and all(find(b"\n", ends[t - 1], starts[t]) >= 0 for t in between):
        _stack(group)
    elif not has_remark:
        group.forced = group.forced - {opening}


def _stack(group: Group) -> None:
    """Give each item of a group a line, as its author has it."""
    group.stacked = True
    if group.wrap == "flow":  # what flows is never sure, so that parts of it are laid out alike
        group.wrap, group.plain = "stack", False


def is_remarked(plan: Plan, group: Group) -> bool:
    """Whether a list has to be opened only for a comment behind its opening bracket."""
    opening, comments = group.gaps[0], plan.comments
    if group.parts[0] != OPEN or group.forced != {opening} or opening - 1 not in plan.trailing:
        return False
    return bisect_left(comments, opening) == bisect_left(comments, group.end)


def note_lines(plan: Plan, group: Group, has_lines: bool) -> None:
    """Note the lines that the author of a sequence gave it, as far as its style has them stay.

    has_lines: comments end lines within its items.
    """
    if group.style["align"].value == "authored":
        _note_alignment(plan, group, has_lines)
    authored = group.style["authored"].value
    is_flow = authored == "lines" and group.wrap == "flow"
    if group.parts[0] == group.parts[-1] == MID and (authored == "rows" or is_flow):
        _note_terms(plan, group, has_lines)
    elif authored == "stack" and not (group.hanging or group.forced):
        if plan.tree.begins_line(group.gaps[0]):
            _note_rows(plan, group, has_lines)
    elif authored == "rows" and not group.hanging:
        is_asked = group.must_open and group.gaps[0] in group.forced
        keep = _keep_rows if is_asked else _note_rows
        keep(plan, group, has_lines)


def _keep_rows(plan: Plan, group: Group, has_lines: bool) -> None:
    """Note the lines of items as the author has them, in a list whose first item begins one.

    has_lines: comments end lines within items. Where comments stand elsewhere than at the ends of lines, rows
    of several items are not kept.
    """
    gaps, parts, forced = group.gaps, group.parts, group.forced
    opening, tree = gaps[0], plan.tree
    if (
        not tree.begins_line(opening)
        and (opening not in plan.asked or group.style["open"].value == "brace-line")
    ):
        return
    between = [token for token, part in zip(gaps, parts) if part == MID]
    if not between or group.wrap == "stack-always":
        group.stacked = group.wrap == "stack"
        return
    rows = [token for token in between if tree.begins_line(token)]
    if len(forced) > 1 and not forced <= plan.asked:
        rows = sorted({*rows, *((forced - plan.asked) & set(between))})
    if rows != between:
        _set_rows(plan, group, rows, has_lines)
        return
    _stack(group)


def _note_rows(plan: Plan, group: Group, has_lines: bool) -> None:
    """Note the rows of a list that its author did not open on purpose: all begin at the column of the first item.

    They are what the author wrote for want of room, so they count only once the list is opened, and only where they
    spare several lines. Items of a literal must have no lines within them; those of a call may.
    """
    if group.deep or group.wrap != "stack" or group.style["open"].value == "same-line":
        return
    rows = _aligned_rows(plan, group, group.gaps[0], group.style["authored"].value == "rows")
    if rows and group.parts.count(MID) - len(rows) >= SPARED:
        _set_rows(plan, group, rows, has_lines)


def _note_terms(plan: Plan, group: Group, has_lines: bool) -> None:
    """Note the lines of terms that stand in no brackets, as the author has them; they count once they are broken."""
    if group.deep or group.hanging or group.wrap not in ("stack", "flow"):
        return
    begin, end = plan.tree.token_start[group.first], plan.tree.token_end[group.end - 1]
    if plan.tree.data.find(b"\n", begin, end) < 0:
        return
    rows = [t for t, part in zip(group.gaps, group.parts) if part == MID and has_line_end(plan, t)]
    if rows:
        _set_rows(plan, group, rows, has_lines)


def has_line_end(plan: Plan, token: int) -> bool:
    """Whether the author set two items on two lines, wherever the sign between them stands. token: before which they
    may be parted."""
    tree, signs = plan.tree, plan.rows.kinds.signs
    is_sign = [tree.kind[tree.token_node[t]] in signs for t in (token - 1, token)]
    gaps = range(token - is_sign[0], token + is_sign[1] + 1)
    return any(b"\n" in tree.between(gap) for gap in gaps)


def _set_rows(plan: Plan, group: Group, rows: list[int], has_lines: bool) -> None:
    """Give a list its author's rows, some of which have several items, unless a comment stands within one."""
    if not has_lines and _has_remarks_alone(plan, group):
        group.rows, group.plain = rows, False


def _note_alignment(plan: Plan, group: Group, has_lines: bool) -> None:
    """Note the rows of a list whose author set them under its first item, beside its bracket."""
    tree, gaps = plan.tree, group.gaps
    first = gaps[0] if group.parts[0] == OPEN else group.first
    rows = [] if group.deep or group.hanging else _aligned_rows(plan, group, first, False)
    if not rows or has_lines or tree.begins_line(first):
        return
    is_closed_below = group.parts[-1] == CLOSE and tree.begins_line(gaps[-1])
    if not is_closed_below and _has_remarks_alone(plan, group):
        group.aligned, group.plain = rows, False
        if _has_long_text(plan, group):
            group.hard = group.must_open = True


def _aligned_rows(plan: Plan, group: Group, first: int, is_whole: bool) -> list[int]:
    """The items that begin lines in a sequence, if all of them stand under the first one; none if not.

    first: the token of that. is_whole: no other lines begin between its brackets.
    """
    gaps, parts, tree = group.gaps, group.parts, plan.tree
    starts = tree.token_start
    at, end = starts[first], starts[gaps[-1]]
    rows: list[int] = []
    while (at := tree.data.find(b"\n", at, end)) >= 0:
        token = bisect_right(starts, at)
        at = starts[token]
        place = bisect_left(gaps, token)
        if gaps[place] == token and parts[place] == MID:
            rows.append(token)
        elif is_whole and (token < gaps[-1] or parts[-1] == MID):
            return []
    return rows if rows and tree.stand_alike([first, *rows], plan.tabs) else []


def _has_remarks_alone(plan: Plan, group: Group) -> bool:
    """Whether all comments in a group end lines of code."""
    low, high = (bisect_left(plan.comments, at) for at in (group.first, group.end))
    return plan.trailing.issuperset(plan.comments[low:high])


def _has_long_text(plan: Plan, group: Group) -> bool:
    """Whether a token in a group holds line ends, so that it takes several lines however it is laid out."""
    low, high = (bisect_left(plan.opaque, at) for at in (group.first, group.end))
    return any(b"\n" in plan.tree.texts[token] for token in plan.opaque[low:high])


def note_holders(plan: Plan) -> None:
    """Note which sequences their author kept closed around one whose lines stand under its first item.

    None in which something else surely opens. What holds a body goes by the rules for bodies, and is not aligned.
    """
    tree, groups = plan.tree, plan.groups
    if not any(group.aligned for group in groups):
        return
    around_bodies: set[int] = set()
    around_opened: set[int] = set()
    for number in range(len(groups) - 1, 0, -1):
        group = groups[number]
        outer = groups[group.around]
        is_opened = group.hard and group.aligned is None
        if number in around_bodies or is_opened and group.bulky:
            around_bodies.add(group.around)
            group.aligned = None
        if number in around_opened or is_opened:
            around_opened.add(group.around)
            group.holds = False
        elif not outer.hanging and group.around and (group.aligned or group.holds):
            outer.holds = outer.aligned is None and not any(map(tree.begins_line, outer.gaps))
        if group.aligned is not None and group.needs >= 0:
            brackets = groups[group.needs]
            brackets.bracketed = bool(tree.texts[brackets.opening])
            if not brackets.bracketed:  # its author wrote none
                around_opened.add(group.needs)


def opens_in_place(plan: Plan, group: Group, number: int) -> bool:
    """Whether a sequence may be opened while the one around it stays closed, as its author has both.

    number: of that sequence.
    """
    inner = plan.groups[number]
    return group.holds and (inner.aligned is not None or inner.holds and not inner.must_open)
