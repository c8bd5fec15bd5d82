"""Which groups must open, which are fixed, and what may open inside one that stays closed."""

from __future__ import annotations

import sys
from bisect import bisect_left, bisect_right
from collections.abc import Sequence, Set

from stilo.layout.authored import is_remarked, keep_stack, note_holders, note_lines, opens_in_place
from stilo.layout.gaps import CLOSE, MID, OPEN
from stilo.layout.groups import Group
from stilo.layout.plan import Plan


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
    note_holders(plan)
    _move_heads(groups, _place_lines(plan))
    _open_outward(plan)
    _fix(plan, _list_inner(groups))


def _open_for_certain(plan: Plan) -> None:
    """Open the groups in which a line surely begins, and those that are always opened."""
    is_sealed = plan.tree.is_sealed
    with_lines = {number for number, _ in plan.lines.values()}
    for number, group in enumerate(plan.groups[1:], 1):
        if group.forced and group.style["authored"].value == "stack":
            keep_stack(plan, group)
        if (group.forced or group.wrap == "stack-always") and not group.shut:
            stays_closed = is_sealed and (group.own or group.needs >= 0)
            # A comment that ends a line shows that there are brackets around it.
            group.hard = group.must_open = not (stays_closed and group.forced <= plan.asked)
            group.bulky = _is_block(group) or not group.forced <= plan.asked
            if group.wrap == "stack" and is_remarked(plan, group):
                group.bulky = group.plain = False
        note_lines(plan, group, number in with_lines)


def _is_block(group: Group) -> bool:
    """Whether a sequence is always opened, and more than terms beside each other, such as the pieces of a text."""
    is_terms = (
        group.parts[0] == MID and not group.hanging and group.style["between"].value != "line"
    )
    return group.wrap == "stack-always" and not is_terms


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
