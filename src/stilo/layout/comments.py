"""The gaps around comments: where a comment stands, and where the break beside it goes."""

from __future__ import annotations

from typing import NamedTuple

from stilo.layout.gaps import CLOSE, EMPTY, MID, NONE, OPEN
from stilo.layout.match import Matched
from stilo.layout.plan import MARK, Plan
from stilo.records import dataclass
from stilo.tree.flat import Tree


class Event(NamedTuple):
    """What becomes of a gap.

    part: its part in a sequence. is_forced: a line ends there whatever fits. blank: least blank lines. seed: the
    number of the seed that owns it. by_comment: a comment forces it.
    """

    part: int
    is_forced: bool
    blank: int
    seed: int
    by_comment: bool


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
            is_line = plan.ends_line(start, structural)
            base = Event(decided.part, is_line, decided.blank, number, False)
        else:
            whole_file = matched.innermost(tree, 0) if matched.group_of else 0
            base = Event(MID if whole_file else NONE, True, 0, whole_file, False)
        if _takes_break(plan, events, start, stop, base):
            # The sign stays on the line that the comment ends.
            events[start - 1] = Event(NONE, False, 0, base.seed, False)
            base = base._replace(part=MID, is_forced=True)
        if any(is_directive(plan, token) for token in range(start, stop)):
            base = base._replace(blank=0)  # its author set the blank lines around it
        _place_run(plan, events, start, stop, base)
        _keep_inside(plan, matched, events, start, stop, tab)
    return events


def _takes_break(plan: Plan, events: dict[int, Event], start: int, stop: int, base: Event) -> bool:
    """Whether comments end a line after a sign before which the sequence would break.

    A sign whose comments are about what follows begins a line instead.
    """
    tree, sign = plan.tree, start - 1
    if base.part != NONE or base.is_forced or sign < 1 or stop >= len(tree.token_node):
        return False
    is_same = tree.parent[tree.gap_right(sign)] == tree.parent[tree.gap_right(stop)]
    return (
        is_same
        and sign not in events
        and plan.gap(sign).part == MID
        and plan.style(sign)["comment-about"].value == "before"
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
    role = events[first]
    for kept in range(first, token):
        if b"\n" in tree.between(kept):
            events[kept] = Event(MID, True, 0, home, True)
    if token < stop or (stop in events and events[stop].part != CLOSE):
        events[token] = role


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
        events[token] = Event(MID, True, 0, homes.get(token, homes[max(homes)]), False)
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


@dataclass
class _Run:
    """Comments without code between them.

    start, stop: the first, and the token after the last. begins: whether each of them, and that token, begins a
    line. ends: whether no code may follow each on its line. part: which part the gap has that they stand in.
    trailing: how many of them end the line of what stands before.
    """

    start: int
    stop: int
    begins: list[bool]
    ends: list[bool]
    part: int
    trailing: int = 0

    @property
    def main(self) -> int:
        """The gap that takes the break which belongs here."""
        return self.start + self.trailing

    def must_break(self, token: int) -> bool:
        """Whether a line surely ends before a comment, or before what follows."""
        index = token - self.start
        is_after_line = index > 0 and (self.ends[index - 1] or self.begins[index])
        return is_after_line or token < self.stop and self.begins[index]


def _place_run(plan: Plan, events: dict[int, Event], start: int, stop: int, base: Event) -> None:
    """Note what becomes of the gaps before some comments and after them. base: of the gap they stand in."""
    run = _run(plan, start, stop, base.part)
    run.trailing = _trailing(plan, run)
    plan.trailing.update(range(start, run.main))
    total = len(plan.gap_row)
    resumes = base.is_forced or (stop < total and _stands_at_base(plan, stop))
    for token in range(max(start, 1), min(stop + 1, total)):
        events[token] = _event(run, token, base, resumes)
        plan.space[token] = _space(plan, run, token)


def _run(plan: Plan, start: int, stop: int, part: int) -> _Run:
    """Comments as they stand, but for those that one side of their gap must hold."""
    tree, total = plan.tree, len(plan.tree.token_node)
    begins = [b"\n" in tree.between(token) for token in range(start, stop + 1)]
    if start == 0:
        begins[0] = True
    if stop == total:
        begins[-1] = True
    # Where each has lines of its own, nothing depends on which of them end one.
    ends = begins[1:] if all(begins) else _ending_lines(plan, start, stop, begins)
    run = _Run(start, stop, begins, ends, part)
    if 0 < start and stop < total and _stands_within(plan, run):
        begins[0] = False  # code follows on their line, which they stand within
    if part == EMPTY and ends[-1] and plan.space[stop] == 0 and not is_line_comment(plan, stop - 1):
        begins[0] = True  # with brackets close to it, one of several lines gets lines of its own
    return run


def _stands_within(plan: Plan, run: _Run) -> bool:
    """Whether comments that begin a line have code after them on it, before which it need not end."""
    return (
        run.begins[0]
        and not any(run.begins[1:])
        and not run.ends[-1]
        and not (run.part == CLOSE and _is_firm(plan, run.stop))
        and not any(
            token in plan.bound_set or MARK in plan.tree.texts[token]
            for token in range(run.start, run.stop)
        )
    )


def _trailing(plan: Plan, run: _Run) -> int:
    """How many comments end the line of what stands before them."""
    count = run.stop - run.start
    found = min(run.begins.index(True) if True in run.begins else count, count)
    if not found:
        return 0
    is_firm_end = run.part == CLOSE and _is_firm(plan, run.stop)
    if not (run.ends[found - 1] or run.begins[found] or found == count and is_firm_end):
        return 0  # code follows on the line
    if found == count and not any(run.ends) and run.part == CLOSE and not is_firm_end:
        # They would end a line or not as the list is opened or not, so they must count as code.
        run.begins[found] = False
        return 0
    return found


def _event(run: _Run, token: int, base: Event, resumes: bool) -> Event:
    """What becomes of the gap before a comment, or before what follows.

    resumes: what follows begins a line that stands where its construct begins.
    """
    must, is_last, seed = run.must_break(token), token == run.stop, base.seed
    if token < run.main:
        return Event(NONE, False, 0, seed, False)
    if token == run.main:
        is_forced = base.is_forced or must
        return Event(
            _main_part(run, is_last, must), is_forced, base.blank, seed, must and not resumes
        )
    if is_last and run.part == CLOSE:
        return Event(CLOSE, base.is_forced or must, 0, seed, must)
    if is_last and run.part == EMPTY:
        return Event(CLOSE if must else NONE, must, 0, seed, must)
    if must:
        return Event(MID if run.part != NONE else NONE, True, 0, seed, not resumes)
    return Event(NONE, False, 0, seed, False)


def _main_part(run: _Run, is_last: bool, must: bool) -> int:
    """The part of the gap that takes the break. is_last: what follows the comments stands after it."""
    if run.part == CLOSE and not is_last:  # the comment belongs to the item before
        return MID if must else NONE
    if run.part == EMPTY:
        if not must:
            return NONE
        return CLOSE if is_last else OPEN
    return run.part


def _space(plan: Plan, run: _Run, token: int) -> int:
    """The spaces before a comment, or before what follows, on one line."""
    if run.part == EMPTY and token in (run.start, run.stop) and not run.trailing:
        return plan.gap(run.stop).apart
    is_tight = run.stop < len(plan.gap_row) and plan.space[run.stop] == 0
    is_behind_opener = token == run.start and run.part == OPEN and not run.trailing
    is_before_closer = token == run.stop and run.part != OPEN
    stays = is_tight and (is_behind_opener or is_before_closer)
    return plan.space[token] if stays else 1


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
