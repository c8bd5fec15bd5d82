"""Deciding the gaps of a file as far as they go, and forming the groups that are needed.

The fixed lines of a file cut it into segments, which are fitted one by one; of a line that is sure to
fit, no groups are made.
"""

from __future__ import annotations

import re
from bisect import bisect_left, bisect_right
from collections.abc import Mapping, Sequence, Set
from itertools import compress, count

from stilo.layout.authored import has_line_end
from stilo.layout.comments import Event, place_comments
from stilo.layout.gaps import CLOSE, EMPTY, MID, NONE, OPEN, Rows
from stilo.layout.groups import DEEP, Group
from stilo.layout.line_sharing import keep_shared_lines
from stilo.layout.match import Matched, match
from stilo.layout.measures import Measured, Measures, measure
from stilo.layout.nesting import find_brackets, nest
from stilo.layout.plan import NO_MARGINS, Block, Margin, Plan
from stilo.layout.regions import Region, most_careful
from stilo.layout.token_spacing import keep_apart, keep_together
from stilo.layout.trailing import find_tails
from stilo.records import dataclass
from stilo.sheet.cascade import Style
from stilo.tree.flat import Tree

# Of the groups in which nothing is forced.
_NONE_FORCED: Set[int] = frozenset()


def plan(
    tree: Tree,
    rows: Rows,
    punctuation: frozenset[str],
    measures: Measures,
    regions: Sequence[Region] = (),
    margins: Mapping[Block, Margin] = NO_MARGINS,
    bound: re.Pattern[bytes] | None = None,
    opened_bodies: Set[int] = frozenset(),
) -> Plan:
    """Decide each gap of a tree as far as its kind goes, and form the groups.

    regions: where other values hold than in the file at large, an outer before one in it. margins: of
    blocks that keep their own. bound: finds what makes a comment act on a line. opened_bodies: see `match`.
    Groups are formed only where they are needed: of a line that is sure to fit, none are. Where a
    line may not fit that was spared brackets of its own, the plan is left there and says so.
    """
    matched = match(tree, rows, regions, opened_bodies)
    row = matched.row
    gap_row = row[:1]
    gap_row += [row[leaf + 1] for leaf in tree.token_node[:-1]]  # of the node after each
    space_of, is_notable, is_opaque = rows.space, rows.notable, rows.opaque
    space = [space_of[place] for place in gap_row]
    if space:
        space[0] = 0
    leaf_row = [row[leaf] for leaf in tree.token_node]
    notable = [token for token, place in enumerate(gap_row) if is_notable[place]]
    opaque = [token for token, place in enumerate(leaf_row) if is_opaque[place]]
    comments = [token for token in opaque if rows.comment[leaf_row[token]]]
    result = Plan(tree, rows, row, gap_row, space, comments, opaque, notable, regions, margins)
    result.short, result.tabs = matched.kept, measures.authored_tabs
    if bound is not None:
        result.bound = [token for token in comments if bound.search(tree.texts[token])]
    keep_apart(result, leaf_row, punctuation)
    if rows.has_tight:
        keep_together(result, leaf_row, punctuation)
    for opening, closing in tree.soft.items():
        space[opening + 1] = space[closing] = 0
    events = place_comments(result, matched, measures.tab)
    unmeasured = result.trailing
    if rows.has_tails:
        result.tails = find_tails(result)
        unmeasured = unmeasured.union(t.found for t in result.tails.values() if t.found >= 0)
    if rows.has_idle:
        is_idle = rows.idle
        result.idle = [token for token, place in enumerate(leaf_row) if is_idle[place]]
        unmeasured = unmeasured.union(result.idle)
    result.measured = measured = measure(tree, space, opaque, unmeasured)
    events.pop(0, None)
    group_of, hang_of, leaves, parent = (
        matched.group_of,
        matched.hang_of,
        tree.token_node,
        tree.parent,
    )
    for token in notable:
        if token and rows.needs_care[gap_row[token]] and token not in events:
            gap, node = rows.gap[gap_row[token]], leaves[token - 1] + 1
            number = hang_of[node] if gap.of_right else group_of[parent[node]]
            is_line = result.ends_line(token, token)
            events[token] = Event(gap.part, is_line, gap.blank, number, False)
    _open_as_asked(result, matched, events)
    careful = most_careful(regions, measures) if regions else measures
    content = _columns_of_lines(tree, matched, rows, careful, margins, measured)
    if rows.has_shares:
        keep_shared_lines(result, matched, events, measured, content, careful)
    wanted = _unsure(result, matched, events, content, careful.width, measured)
    if result.lacking:
        return result
    sown = _Sown({}, {}, {})
    sown.add(matched, result, wanted)
    for token in sorted(events):
        sown.add_event(result, token, events[token])
    is_dense = "dense" in {measures.density, *(region.measures.density for region in regions)}
    _grow(result, matched, sown, is_dense)
    nest(result)
    return result


def _open_as_asked(plan: Plan, matched: Matched, events: dict[int, Event]) -> None:
    """Force open what the author opened, and what holds more than may stand in a row."""
    tree, rows = plan.tree, plan.rows
    counted: dict[int, list[int]] = {}
    asks, gap_row, gap_of = rows.asks, plan.gap_row, rows.gap
    group_of, parent, leaves = matched.group_of, tree.parent, tree.token_node
    for token in plan.notable if rows.has_asks else ():
        if not (token and asks[gap_row[token]]):
            continue
        gap = gap_of[gap_row[token]]
        around = rows.style[plan.row[parent[leaves[token - 1] + 1]]]
        keeps_line = around["authored"].value == "lines"
        is_counted = gap.part == MID and not keeps_line
        is_asked = has_line_end if keeps_line else _is_opened
        if not is_counted and (token in events or not is_asked(plan, token)):
            continue
        number = group_of[parent[leaves[token - 1] + 1]]  # no such gap belongs to what hangs
        if is_counted:
            counted.setdefault(number, []).append(token)
            continue
        for begin in _begins(plan, token, around):
            events[begin] = Event(plan.gap(begin).part, True, plan.gap(begin).blank, number, False)
            plan.asked.add(begin)
    for number in matched.laden:
        seed = matched.seeds[number]
        token = tree.first(seed.node) + (not seed.hanging)
        hangs = not seed.hanging and seed.node in matched.hang_of
        if not hangs and not (token in events and events[token].is_forced):
            events[token] = Event(OPEN, True, plan.gap(token).blank, number, False)
            plan.asked.add(token)
    for number, tokens in counted.items():
        last = tokens[-1]
        most = int(str(rows.style[matched.seeds[number].row]["line-most"].value))
        if len(tokens) >= most and last not in events:
            events[last] = Event(MID, True, plan.gap(last).blank, number, False)
            plan.asked.add(last)


def _is_opened(plan: Plan, token: int) -> bool:
    """Whether the author set the first item of a list on a new line, or, where items stand beside a brace
    that begins a line, any item or the closing brace."""
    tree = plan.tree
    if b"\n" in tree.between(token):
        return True
    node = tree.parent[tree.gap_right(token)]
    style = plan.rows.style[plan.row[node]]
    if style["authored"].value == "rows" and _table_rows(plan, node):
        return True
    if style["open"].value != "brace-line":
        return False
    if b"\n" not in tree.between(token - 1):
        return False
    begins = map(tree.first, tree.children(node))
    return any(b"\n" in tree.between(begin) for begin in begins if begin > token)


def _begins(plan: Plan, token: int, style: Style) -> list[int]:
    """Where lines begin in a list that its author opened: at its first item, or, in a table whose rows stand under
    the first one, at the others. token: of the first item. style: that of the list."""
    tree = plan.tree
    if style["align"].value == "authored" and not tree.begins_line(token):
        rows = _table_rows(plan, tree.parent[tree.gap_right(token)])
        if rows and tree.stand_alike([token, *rows], plan.tabs):
            return rows
    return [token]


def _table_rows(plan: Plan, node: int) -> list[int]:
    """The first tokens of the items of a list but the first one, if its author began a line with each, and all of
    them are such lists; none if not."""
    tree = plan.tree
    items: list[int] = []
    for item in tree.children(node):
        if tree.kind[item] in plan.rows.kinds.signs or tree.kind[item] in plan.rows.comments:
            continue
        token = tree.first(item)
        if items and not tree.begins_line(token):
            return []
        if plan.rows.style[plan.row[item]]["authored"].value != "rows":
            return []
        items.append(token)
    return items[1:]


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
        gaps = self.gaps.get(number)
        if gaps is None:
            self.gaps[number], self.parts[number] = [token], [part]
        else:
            at = bisect_right(gaps, token)
            gaps.insert(at, token)
            self.parts[number].insert(at, part)
        if forced:
            self.forced.setdefault(number, set()).add(token)


def _columns_of_lines(
    tree: Tree,
    matched: Matched,
    rows: Rows,
    measures: Measures,
    margins: Mapping[Block, Margin],
    measured: Measured,
) -> list[int]:
    """The column at which the lines of each seed begin that are sure."""
    seeds, clear = matched.seeds, matched.clear
    content = [0] * len(seeds)
    for number in compress(count(), clear):
        seed = seeds[number]
        if number:
            style = rows.style[seed.row]
            step = measures.step(style, seed.hanging) + measures.brace(style)
            content[number] = content[seed.around] + step
            if style["open"].value == "beside":
                first = tree.first(seed.node)
                content[number] += (
                    sum(measured.starts[first + 1 : first + 2]) - measured.starts[first]
                )
        if margins and (kept := margins.get((seed.node, seed.hanging))) is not None:
            content[number] = kept.column
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
    lines = _sure_lines(plan, matched, events, measured)
    wanted = lines.wanted
    gap_row, tails, tree = plan.gap_row, plan.tails, plan.tree
    plain, is_firm = plan.rows.plain_part, plan.rows.firm
    starts, ends = measured.starts, measured.ends
    spared = list(tree.spared)
    opening = sorted(tree.soft.keys() - tree.firm)
    begin, indent = 0, 0
    sure = sorted(lines.begins)
    for token in sure:
        room = width - plan.room(token) if token in tails else width
        length = indent + ends[token - 1] - starts[begin] if token > begin else 0
        if opening and length == room:  # with a bracket that may come it may not fit
            room -= bisect_left(opening, begin) < bisect_left(opening, token)
        if token > begin and not (length <= room and lines.is_whole(begin, token, measured.multi)):
            wanted += [
                t
                for t, place in enumerate(gap_row[begin + 1 : token], begin + 1)
                if plain[place] and not is_firm[place] and t not in events and t not in lines.opened
            ]
            plan.lacking += spared[bisect_left(spared, begin):bisect_left(spared, token)]
        begin, indent = token, content[lines.begins[token]]
    wanted.sort()
    for first, (last, _) in tree.spared.items():
        if sure[bisect_right(sure, first)] <= last:
            plan.lacking.append(first)
    return wanted


@dataclass(frozen=True)
class _SureLines:
    """Lines that surely begin.

    begins: the token that begins each, and the end of all → the seed whose line it is. unsettled: tokens, in order,
    at or before which others may end. wanted: gaps that are looked at in any case. opened: the gaps of sequences
    around bodies.
    """

    begins: dict[int, int]
    unsettled: list[int]
    wanted: list[int]
    opened: set[int]

    def is_whole(self, begin: int, end: int, multi: Mapping[int, object]) -> bool:
        """Whether no other line may end between two tokens. multi: the tokens that hold line ends."""
        at = bisect_left(self.unsettled, begin)
        if at == len(self.unsettled) or self.unsettled[at] >= end:
            return True
        return end - begin == 1 and self.unsettled[at] == begin and begin in multi


def _sure_lines(
    plan: Plan, matched: Matched, events: dict[int, Event], measured: Measured
) -> _SureLines:
    rows, gap_row, tree = plan.rows, plan.gap_row, plan.tree
    seeds, clear = matched.seeds, matched.clear
    plain, is_firm = rows.plain_part, rows.firm
    group_of, parent, leaves = matched.group_of, tree.parent, tree.token_node
    wanted: list[int] = []
    begins: dict[int, int] = {}
    unsettled: list[int] = list(measured.multi)
    for token in plan.notable:
        if token and is_firm[gap_row[token]] and token not in events:
            wanted.append(token)
            number = group_of[parent[leaves[token - 1] + 1]]
            if clear[number]:
                begins[token] = number
            else:
                unsettled.append(token)
    opened: set[int] = set()
    for number in matched.opened:
        closes = rows.style[seeds[number].row]["close"].value != "same-line"
        for child in list(tree.children(seeds[number].node))[1:]:
            token = tree.first(child)
            part = plain[gap_row[token]]
            if part and token not in events and (closes or part != CLOSE):
                wanted.append(token)
                opened.add(token)
                begins[token] = number
    for token, event in events.items():
        is_part = event.part != NONE
        if (event.is_forced or is_part and is_firm[gap_row[token]]) and clear[event.seed]:
            begins[token] = event.seed
        elif event.is_forced or is_part:
            unsettled.append(token)
    unsettled.sort()
    begins[len(gap_row)] = 0
    return _SureLines(begins, unsettled, wanted, opened)


def _grow(plan: Plan, matched: Matched, sown: _Sown, is_dense: bool) -> None:
    """Make the groups of the seeds that have gaps, numbered in text order after the root.

    is_dense: stacks may fill their lines, so that there is more than one way to open them.
    """
    seeds, tree, styles = matched.seeds, plan.tree, plan.rows.style
    groups, first = plan.groups, plan.rows.cascade.styles[0]
    if not seeds:
        return
    groups.append(Group(tree, seeds[0], first, str(first["wrap"].value), -1, [], [], _NONE_FORCED))
    numbers = {0: 0}
    wraps, hangs, plain = plan.rows.wrap, plan.rows.hang, plan.rows.plain
    flows = plan.rows.flows_atoms
    forced_of, ends, levels = sown.forced, matched.ends, matched.levels
    for old in sorted(sown.gaps):
        seed = seeds[old]
        around, row = seed.around, seed.row
        while around not in numbers:
            around = seeds[around].around
        numbers[old] = len(groups)
        wrap = hangs[row] if seed.hanging else wraps[row]
        if flows[row] and not seed.hanging and _holds_atoms(plan, seed.node, sown.gaps[old][0]):
            wrap = "flow"
        forced = forced_of.get(old, _NONE_FORCED)
        group = Group(
            tree, seed, styles[row], wrap, numbers[around], sown.gaps[old], sown.parts[old], forced
        )
        group.plain = plain[row] and not (is_dense and wrap == "stack")
        group.deep = levels[old] > DEEP
        if old in ends:
            group.end = ends[old]
        if tree.soft and not seed.hanging:
            find_brackets(plan, groups, group)
            if group.own:
                plan.owned.append(group)
        groups.append(group)
    for token, (number, by_comment) in plan.lines.items():
        while number not in numbers:
            number = seeds[number].around
        plan.lines[token] = (numbers[number], by_comment)


def _holds_atoms(plan: Plan, node: int, opening: int) -> bool:
    """Whether all items of a list are atoms, and several. opening: the token of the first."""
    tree, is_atom, row = plan.tree, plan.rows.atom, plan.row
    first, kinds = tree.token_node[opening - 1], plan.rows.kinds
    items = 0
    for child in tree.children(node):
        if child > first and tree.kind[child] not in kinds.signs:
            if is_atom[row[child]]:
                items += 1
            elif tree.kind[child] not in plan.rows.comments:
                return False
    return items > 1
