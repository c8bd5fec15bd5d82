"""Which groups must open, which are fixed, and what may open inside one that stays closed."""

from __future__ import annotations

import sys
from bisect import bisect_left, bisect_right
from collections.abc import Sequence, Set

from stilo.layout.gaps import CLOSE, MID, OPEN
from stilo.layout.groups import Group
from stilo.layout.plan import Plan

#: Rows below a first item that stands beside its bracket count if they spare at least so many lines.
SPARED = 3


def find_brackets(plan: Plan, groups: list[Group], group: Group) -> None:
    """Whether a group has brackets of its own, and which around it must be opened before it."""
    is_bracketed = _is_bracketed(group)
    opening, tree = group.gaps[0] - 1, plan.tree
    while opening in plan.comment_set and opening > 0:
        opening -= 1
    group.own = is_bracketed and opening in tree.soft
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


def _shut(plan: Plan) -> None:
    """Note which groups stand in brackets of their own that no group opens, so that these never come.

    Not those that must be opened for what is in them.
    """
    groups, leaves = plan.groups, plan.tree.token_node
    owned = {group.opening for group in plan.owned}
    pairs = [pair for pair in plan.tree.soft.items() if pair[0] not in owned]
    nodes = [group.node for group in groups] if pairs else []  # in order
    for opening, closing in pairs:
        first = bisect_right(nodes, leaves[opening])
        for group in groups[first:bisect_left(nodes, leaves[closing], first)]:
            if _is_bracketed(group) or not group.forced <= plan.asked:
                continue
            around = groups[group.around]
            while around.around >= 0 and around.first > opening and not _is_bracketed(around):
                around = groups[around.around]
            group.shut = group.shut or around.around < 0 or around.first <= opening


def _is_bracketed(group: Group) -> bool:
    return bool(group.parts) and group.parts[0] == OPEN and not group.hanging


def nest(plan: Plan) -> None:
    """Find which groups must open and which are fixed."""
    groups = plan.groups
    if not groups:
        return
    root = groups[0]
    root.hard = root.must_open = root.fixed = True
    root.first, root.end = 0, len(plan.space)
    if plan.tree.soft:
        _shut(plan)
    _open_for_certain(plan)
    _note_holders(plan)
    _move_heads(groups, _place_lines(plan))
    _open_outward(plan)
    _fix(plan, _list_inner(groups))


def _open_for_certain(plan: Plan) -> None:
    """Open the groups in which a line surely begins, and those that are always opened."""
    tree, is_sealed = plan.tree, plan.tree.is_sealed
    with_lines = {number for number, _ in plan.lines.values()}
    for number, group in enumerate(plan.groups[1:], 1):
        if group.forced and group.style["authored"].value == "stack":
            _keep_stack(plan, group)
        if (group.forced or group.wrap == "stack-always") and not group.shut:
            stays_closed = is_sealed and (group.own or group.needs >= 0)
            # A comment that ends a line shows that there are brackets around it.
            group.hard = group.must_open = not (stays_closed and group.forced <= plan.asked)
            group.bulky = _is_body(group) or not group.forced <= plan.asked
            if group.wrap == "stack" and _is_remarked(plan, group):
                group.bulky = group.plain = False
        if group.style["align"].value == "authored":
            _note_alignment(plan, group, number in with_lines)
        authored = group.style["authored"].value
        is_flow = authored == "lines" and group.wrap == "flow"
        if group.parts[0] == group.parts[-1] == MID and (authored == "rows" or is_flow):
            _note_lines(plan, group, number in with_lines)
        elif authored == "stack" and not (group.hanging or group.forced):
            if tree.begins_line(group.gaps[0]):
                _note_rows(plan, group, number in with_lines)
        elif authored == "rows" and not group.hanging:
            is_asked = group.must_open and group.gaps[0] in group.forced
            keep = _keep_rows if is_asked else _note_rows
            keep(plan, group, number in with_lines)


def _is_body(group: Group) -> bool:
    """Whether a sequence is always opened, and more than terms beside each other, such as the pieces of a text."""
    is_terms = (
        group.parts[0] == MID and not group.hanging and group.style["between"].value != "line"
    )
    return group.wrap == "stack-always" and not is_terms


def _is_remarked(plan: Plan, group: Group) -> bool:
    """Whether a list has to be opened only for a comment behind its opening bracket."""
    opening, comments = group.gaps[0], plan.comments
    if group.parts[0] != OPEN or group.forced != {opening} or opening - 1 not in plan.trailing:
        return False
    return bisect_left(comments, opening) == bisect_left(comments, group.end)


def _note_holders(plan: Plan) -> None:
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
            brackets.kept = bool(tree.texts[brackets.opening])  # else its author wrote none


def opens_in_place(plan: Plan, group: Group, number: int) -> bool:
    """Whether a sequence may be opened while the one around it stays closed, as its author has both.

    number: of that sequence.
    """
    inner = plan.groups[number]
    return group.holds and (inner.aligned is not None or inner.holds and not inner.must_open)


def _place_lines(plan: Plan) -> set[int]:
    """Give each line that no sequence decides about to the group it stands in, which must open.

    Returns the numbers of the groups whose heads begin after such a line within them.
    """
    groups = plan.groups
    shortened: set[int] = set()
    for token, (number, by_comment) in list(plan.lines.items()):
        while number:
            group = groups[number]
            if token >= group.end:  # of the body that its header ends before
                number = group.around
                continue
            if group.part_of(token) or group.hanging:
                _harden(plan, number, token, True, False)
                _stack_if_bulky(plan, group)
                _open_brackets(plan, group)
                break
            group.first = max(group.first, token)
            shortened.add(number)
            number = group.around
        plan.lines[token] = (number, by_comment)
    return shortened


def _open_brackets(plan: Plan, group: Group) -> None:
    """Open the brackets that a group needs to run over several lines."""
    if group.needs >= 0 and not plan.tree.is_sealed:
        brackets = plan.groups[group.needs]
        brackets.hard = brackets.must_open = True


def _move_heads(groups: Sequence[Group], shortened: Set[int]) -> None:
    """Take groups out of those whose heads begin after them."""
    if shortened:
        for group in groups[1:]:
            while group.around in shortened and group.gaps[0] < groups[group.around].first:
                group.around = groups[group.around].around


def _open_outward(plan: Plan) -> None:
    """Open what is around something that must open, as far as the sheet says so."""
    groups, is_sealed = plan.groups, plan.tree.is_sealed
    _swell(groups)
    for number in range(len(groups) - 1, 0, -1):
        group = groups[number]
        outer = groups[group.around]
        is_headed = bool(outer.gaps) and outer.parts[0] == MID and group.first < outer.gaps[0]
        if is_headed:
            is_first = outer.first == group.first and group.parts[0] == MID
            outer.headed |= is_first or outer.style["first-lines"].value == "inner"
        if group.must_open and not (group.aligned is not None and groups[group.needs].holds):
            _open_brackets(plan, group)
        if group.hard and not group.shut:
            is_known = outer.must_open and outer.hard and (outer.bulky or not group.bulky)
            # What several lines stand before is laid out as around a body.
            is_bulky = group.bulky or group.wrap == "stack-always" and is_headed
            if not is_known or is_sealed:
                _harden(plan, group.around, group.first, is_bulky, True, number)
            if outer.wrap == "flow":
                _stack_if_bulky(plan, outer)


def _swell(groups: Sequence[Group]) -> None:
    """Note of all that is around something bulky that it is, too: what may stay closed depends on it."""
    reached: set[int] = set()
    for number in range(len(groups) - 1, 0, -1):
        group = groups[number]
        if group.bulky and (group.hard or number in reached) and group.around and not group.shut:
            groups[group.around].bulky = True
            reached.add(group.around)


def _list_inner(groups: Sequence[Group]) -> list[int]:
    """List the groups in each, in text order, which is that of their numbers.

    Returns the numbers of those that must open and have but one way to do so.
    """
    opened: list[int] = []
    for number, group in enumerate(groups[1:], 1):
        around = groups[group.around]
        if around.inner:
            around.inner.append(number)
        else:
            around.inner = [number]
        if group.must_open and _is_plain(group):
            opened.append(number)
    return opened


def _fix(plan: Plan, opened: Sequence[int]) -> None:
    """Note whose lines are known before anything is measured, of those groups that have but one way to open."""
    groups = plan.groups
    going_on: set[int] = set()
    for number in reversed(opened):
        group = groups[number]
        is_list = not group.hanging and group.style["brace"].value == "auto"
        if is_list and _goes_on(groups, number, going_on):
            going_on.add(number)
    further_in = sorted(token for token, (_, by_comment) in plan.lines.items() if by_comment)
    for number in opened:
        group = groups[number]
        around = groups[group.around]
        is_further_in = further_in and _is_further_in(plan, group, around, further_in)
        if number not in going_on and not is_further_in:
            group.fixed = around.fixed


def _is_further_in(plan: Plan, group: Group, around: Group, lines: Sequence[int]) -> bool:
    """Whether a group stands on a line that is set further in since a comment ended the one before.

    lines: the tokens that begin such lines. The group goes by that line, not by the item's; but a body goes by the
    line that its construct begins on.
    """
    tree = plan.tree
    if group.hanging and group.style["hang"].value == "line":
        return False
    # The line may be in its own first item.
    first = own = min(tree.first(group.node), group.gaps[0])
    if group.wrap == "stack-always" and not group.hanging and tree.parent[group.node] >= 0:
        own = min(first, tree.first(tree.parent[group.node]))
    at = bisect_right(around.gaps, first)
    begin = around.gaps[at - 1] if at else 0
    return bisect_right(lines, begin) < bisect_right(lines, own)


def _keep_stack(plan: Plan, group: Group) -> None:
    """Keep a list open that its author opened if each of two or more items begins a line; else let it close."""
    opening, is_remarked = group.gaps[0], _is_remarked(plan, group)
    is_asked = opening in plan.asked or is_remarked
    if not is_asked or group.parts[0] != OPEN or group.style["line-most"].value:
        return
    find, starts, ends = plan.tree.data.find, plan.tree.token_start, plan.tree.token_end
    between = [token for token, part in zip(group.gaps, group.parts) if part == MID]
    if between and all(find(b"\n", ends[t - 1], starts[t]) >= 0 for t in between):
        _stack(group)
    elif not is_remarked:
        group.forced = group.forced - {opening}


def _stack(group: Group) -> None:
    """Give each item of a group a line, as its author has it."""
    group.stacked = True
    if group.wrap == "flow":  # what flows is never sure, so that parts of it are laid out alike
        group.wrap, group.plain = "stack", False


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
    """Note the rows of a list whose first item stands beside its bracket, and all lines below that item.

    They are what the author wrote for want of room, so they count only once the list is opened, and only where they
    spare several lines. Lines that begin within items are no rows.
    """
    if group.deep or group.wrap != "stack" or group.style["open"].value == "same-line":
        return
    rows = _aligned_rows(plan, group, group.gaps[0], group.style["authored"].value == "rows")
    if rows and group.parts.count(MID) - len(rows) >= SPARED:
        _set_rows(plan, group, rows, has_lines)


def _note_lines(plan: Plan, group: Group, has_lines: bool) -> None:
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


def _set_rows(plan: Plan, group: Group, rows: list[int], has_lines: bool) -> None:
    """Give a list its author's rows, some of which have several items, unless a comment stands within one."""
    if not has_lines and _has_remarks_alone(plan, group):
        group.rows, group.plain = rows, False


def _has_remarks_alone(plan: Plan, group: Group) -> bool:
    """Whether all comments in a group end lines of code."""
    low, high = (bisect_left(plan.comments, at) for at in (group.first, group.end))
    return plan.trailing.issuperset(plan.comments[low:high])


def _has_long_text(plan: Plan, group: Group) -> bool:
    """Whether a token in a group holds line ends, so that it takes several lines however it is laid out."""
    low, high = (bisect_left(plan.opaque, at) for at in (group.first, group.end))
    return any(b"\n" in plan.tree.texts[token] for token in plan.opaque[low:high])


def _stack_if_bulky(plan: Plan, group: Group) -> None:
    """Items of many lines do not flow, be the list opened by them, or by its author before them."""
    if group.must_open and group.bulky and group.wrap == "flow" and group.forced <= plan.asked:
        group.wrap = "stack"


def _goes_on(groups: Sequence[Group], number: int, going_on: Set[int]) -> bool:
    """Whether something that may open in several ways stands after a group in the same item.

    Its lines go by the line that begins the item, so all of the item has to be fitted as one.
    going_on: the groups after this one of which that is so.
    """
    group = groups[number]
    around = groups[group.around]
    inner, gaps = around.inner, around.gaps
    at = bisect_right(inner, number)
    if at == len(inner):
        return False
    part = bisect_right(gaps, group.first)
    end = gaps[part] if part < len(gaps) else sys.maxsize  # of the item
    while at < len(inner):
        other = groups[inner[at]]
        if other.first >= end:
            return False
        if other.first >= group.end:
            is_certain = other.must_open and _is_plain(other)
            if not is_certain or inner[at] in going_on:
                return True
        at += 1
    return False


def _is_plain(group: Group) -> bool:
    """Whether an opened group breaks at known gaps to known indents."""
    if group.headed and group.style["indent"].value != "none":
        return False  # the operators of the first operand stand further in
    return group.wrap in ("stack", "stack-always") and (group.hanging or group.plain)


def _harden(
    plan: Plan, number: int, token: int, is_bulky: bool, is_free: bool, inner: int = -1
) -> None:
    """Something at this token cannot stand on one line: what of the group around it?

    is_free: it may be opened without brackets that the group around it may bring. inner: the group that it
    is, if any.
    """
    group = plan.groups[number]
    if number == 0:
        return
    group.hard = True
    group.bulky |= is_bulky  # first, since what stands before the first gap then may open
    stays_closed = plan.tree.is_sealed and (group.own or group.needs >= 0)
    if group.must_open and not stays_closed:
        return
    may_stay = group.own and is_free or may_open_inside(plan, group, group.part_of(token))
    if inner >= 0:
        may_stay |= opens_in_place(plan, group, inner) or opens_late(plan, group, inner)
    if not may_stay:
        group.must_open = not stays_closed


def may_open_inside(plan: Plan, group: Group, part: int, gone: Set[int] = frozenset()) -> bool:
    """Whether what stands in a part may open while the group stays closed.

    gone: separators after last items that are not to stay.
    """
    if part == 0 and (group.bulky or (group.parts[0] == OPEN and not group.hanging)):
        return True  # it stands before the sequence, not in it
    last_part = len(group.gaps) - (1 if group.parts[-1] == CLOSE else 0)
    how = group.style["hang"].value if group.hanging else ""
    if how == "level":
        return False
    grant = "all" if how in ("line", "soft") else group.style["grant"].value
    if grant == "all" or (grant == "last" and part == last_part) or (grant == "first" and not part):
        return True
    if part > last_part:
        return True  # it stands behind the sequence, as the body of a loop does
    if not part or group.deep:
        return False
    token = group.gaps[part - 1]
    cling = plan.rows.style[plan.row[plan.tree.gap_right(token)]]["cling"].value
    if cling == "sole":
        return last_part == 1 and not ends_with_separator(plan, group, gone)
    return cling == "any" or (cling == "last" and part == last_part)


def opens_late(plan: Plan, group: Group, number: int, gone: Set[int] = frozenset()) -> bool:
    """Whether a group is the list of one call, in one that holds nothing else: it may open for want of lines.

    number: of that group. gone: separators after last items that are not to stay.
    """
    has_several = group.hanging or group.parts[0] != OPEN or MID in group.parts
    if has_several or group.deep or plan.style(group.gaps[0])["cling"].value != "sole-late":
        return False
    if group.style["grant"].value != "none" or ends_with_separator(plan, group, gone):
        return False
    call = plan.groups[number]
    head = plan.tree.texts[call.gaps[0] - 1][-1:]
    is_call = call.parts[0] == OPEN or (call.parts == [MID] and head not in (b")", b"]", b"}"))
    return is_call and not call.bulky


def ends_with_separator(plan: Plan, group: Group, gone: Set[int] = frozenset()) -> bool:
    """Whether a separator stays after the last item: such items have a line each."""
    if group.gaps[-1] - 1 in gone:
        return False
    if group.parts[-1] != CLOSE or group.style["trailing"].value not in ("keep", "opened"):
        return False
    last = plan.tree.token_text(group.gaps[-1] - 1).decode()
    return last == group.style["separator"].value
