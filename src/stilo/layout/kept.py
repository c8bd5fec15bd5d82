"""What stays as it is while the rest is laid out, and the margins that the rest takes from it.

A block of which a line stays keeps its own column, so that the lines laid out stand beside those that
stay. A block that is laid out as a whole stands in by the style, from the line that opens it.
"""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Callable, Iterator, Mapping, Sequence, Set

from stilo.layout.comments import before_on_line, source_column
from stilo.layout.fit import Fitted
from stilo.layout.gaps import CLOSE
from stilo.layout.groups import Group
from stilo.layout.plan import Block, Margin, Plan
from stilo.records import dataclass
from stilo.tree.flat import Tree


@dataclass(frozen=True)
class Kept:
    """What stays as it is: gaps, by the token after each, and tokens.

    moved: runs of tokens whose lines among themselves stay, but go further in or out with their first.
    """

    gaps: Set[int] = frozenset()
    tokens: Set[int] = frozenset()
    moved: Sequence[range] = ()

    def __bool__(self) -> bool:
        return bool(self.gaps or self.tokens)


NOTHING_KEPT = Kept()


def find_kept(
    plan: Plan,
    fitted: Fitted,
    left: Sequence[range],
    stretches: Sequence[tuple[int, int]] | None,
    tab: int | None,
) -> tuple[Kept, list[int] | None]:
    """What stays of a text, and the gaps that are laid out (None: all).

    left: runs of gaps that stay, with the tokens between them. stretches: where
    what is to be laid out starts and ends; statements that reach into it are laid out whole. None: all.
    tab: columns that a tab takes; None: the blocks of which a part stays will be set where that is.
    """
    gaps: set[int] = set()
    tokens: set[int] = set()
    for run in left:
        gaps.update(run)
        tokens.update(range(run.start - 1, run.stop))
    if stretches is None:
        return Kept(gaps, tokens), None
    touched = _asked(plan, fitted, stretches, tab)
    others = set(range(len(plan.tree.token_node) + 1)).difference(touched)
    return Kept(gaps | others, tokens | others), touched


def _asked(
    plan: Plan, fitted: Fitted, stretches: Sequence[tuple[int, int]], tab: int | None
) -> list[int]:
    """The gaps of all statements that reach into some stretches; whole lines of statements.

    One in a body within an expression is taken alone where the lines of this body that stay stand at the columns at
    which they are laid out; elsewhere, the whole expression is taken, since these follow from its layout.
    """
    tree = plan.tree
    outer, inner = line_starts(plan, fitted), line_starts(plan, fitted, is_laid_out=True)
    is_outer, starts = {0, *outer, len(tree.token_node)}, {*inner}
    touched: set[int] = set()
    for stretch in stretches:
        found = statements_in(tree, inner, stretch)
        is_whole = found.start in is_outer and found.stop in is_outer
        if not (is_whole or _is_in_place(plan, fitted, found, starts, tab)):
            found = statements_in(tree, outer, stretch)
        touched.update(found)
    if len(tree.token_node) - 1 in touched:
        touched.add(len(tree.token_node))  # what ends the text
    return sorted(touched)


def _is_in_place(plan: Plan, fitted: Fitted, run: range, starts: Set[int], tab: int | None) -> bool:
    """Whether a run of tokens can be laid out without the expressions of which only a part is in it.

    It can where these have no lines of their own in it, but for bodies that stand where they are laid out: the first
    and the last of their other lines do. starts: the tokens that begin statements.
    """
    tree = plan.tree
    for token in (run.start, run.stop):
        group = _home(plan, token)
        while group is not None and not group.fixed:
            low, high = bisect_left(group.gaps, run.start), bisect_left(group.gaps, run.stop)
            inside, others = set(group.gaps[low:high]), group.gaps[:low] + group.gaps[high:]
            if inside and not (inside <= starts and _are_laid_out(tree, fitted, others, tab)):
                return False
            group = plan.groups[group.around] if group.around >= 0 else None
    return True


def _are_laid_out(tree: Tree, fitted: Fitted, gaps: list[int], tab: int | None) -> bool:
    """Whether some of these gaps begin lines, and the first and the last of these stand where they are laid out.

    tab: None: whether they will.
    """
    ends = [next(filter(tree.begins_line, some), -1) for some in (gaps, reversed(gaps))]
    return (
        -1 not in ends
        and (
            tab is None
            or all(
                len(_margin_before(tree, t).expandtabs(tab)) == fitted.breaks.get(t) for t in ends
            )
        )
    )


def _home(plan: Plan, token: int) -> Group | None:
    """The group that a line which a token begins belongs to."""
    if token in plan.lines:
        return plan.groups[plan.lines[token][0]]
    return plan.owners.get(token)


def statements_in(tree: Tree, starts: Sequence[int], stretch: tuple[int, int]) -> range:
    """The tokens of all statements that reach into a stretch; whole lines of statements.

    starts: the tokens that begin such lines, in order.
    """
    start, end = stretch
    low = bisect_left(tree.token_end, start + 1)
    high = bisect_left(tree.token_start, end)
    if low >= high:
        return range(0)
    first, behind = bisect_right(starts, low) - 1, bisect_left(starts, high)
    count = len(tree.token_node)
    return range(
        starts[first] if first >= 0 else 0, starts[behind] if behind < len(starts) else count
    )


def line_starts(plan: Plan, fitted: Fitted, is_laid_out: bool = False) -> list[int]:
    """The tokens that begin a statement, a clause or an entry, and a line of the source with it.

    is_laid_out: the text around them is laid out, too. Then those in bodies within expressions count as well,
    whose columns follow from it.
    """
    tree = plan.tree
    starts = statement_starts(plan, is_laid_out)
    starts.intersection_update(fitted.breaks if is_laid_out else fitted.cuts)
    for opening, closing in tree.soft.items():
        starts.difference_update(range(opening + 1, closing + 1))
    return sorted(token for token in starts if b"\n" in tree.between(token))


def statement_starts(plan: Plan, is_anywhere: bool = False) -> set[int]:
    """The tokens that begin a statement, a clause or an entry, as far as the plan alone tells.

    is_anywhere: also those in bodies within expressions.

    A list with an item a line, as its author has it, is such a sequence unless it stands in another list
    that is opened only for what is in it. What nothing opens is one statement with all that is in it, since
    its first item begins no line of its own.
    """
    groups = plan.groups
    of_lines: list[bool] = []
    is_whole: list[bool] = []
    for group in groups:
        around = group.around
        is_whole.append(
            around >= 0 and (is_whole[around] or _is_one_statement(group, groups[around]))
        )
        if is_whole[-1]:
            of_lines.append(False)
            continue
        is_root = group.around < 0
        by_author = (group.stacked or group.hanging) and not is_root and of_lines[group.around]
        has_own = is_root or group.wrap == "stack-always"
        is_open = group.fixed or (is_anywhere and has_own and group.must_open)
        of_lines.append(is_open and (has_own or by_author))
    starts = {
        token
        for group, has_lines in zip(groups, of_lines)
        if has_lines and not group.own and (group.wrap == "stack-always" or group.stacked)
        for token, part in zip(group.gaps, group.parts)
        if part != CLOSE or group.style["close"].value != "same-line"
    }
    starts.update(
        token
        for token, (number, by_comment) in plan.lines.items()
        if not by_comment and not is_whole[number]
    )
    return starts


def _is_one_statement(group: Group, around: Group) -> bool:
    """Whether a sequence of lines has nothing before it, and does not step in. around: what it is in."""
    hangs = around.node == group.node  # under a header
    steps_in = group.style["indent"].value != "none"
    return group.is_unopened and group.node > 0 and not hangs and not steps_in


def keeping(kept: Kept, runs: Sequence[range], in_place: bool) -> Kept:
    """The same, and statements that keep their lines, as runs of tokens.

    in_place: even the lines that they begin stay where they are.
    """
    gaps, tokens = set(kept.gaps), set(kept.tokens)
    for run in runs:
        gaps.update(run if in_place else run[1:])
        tokens.update(run)
    return Kept(gaps, tokens, [*kept.moved, *runs])


def find_margins(
    plan: Plan, fitted: Fitted, gaps: Set[int], tab: int, margin_of: Callable[[int], bytes]
) -> Mapping[Block, Margin]:
    """The margins of blocks that keep their own, since some line in them stays; none, if all are as planned.

    gaps: those that stay. tab: columns that a tab takes. margin_of: what a line begins with that is so
    many columns in.
    """
    tree = plan.tree
    staying = [token for token in _line_begins(tree) if token in gaps]
    lines: dict[Block, list[int]] = {}
    for group in plan.groups:
        if not (group.fixed or group.must_open and group.wrap == "stack-always"):
            continue
        low = group.gaps[0] if group.gaps and group.node else 0
        high = group.gaps[-1] if group.parts and group.parts[-1] == CLOSE else group.end
        is_part = _any_between(staying, low, high) or _has_comment_below(plan, group, gaps)
        if is_part:
            block = (group.node, group.hanging)
            lines.setdefault(block, []).extend(_lines(tree, group))
    comments = set(plan.comments)
    margins = {}
    is_as_planned = True
    for block, found in lines.items():
        code = [token for token in found if token not in comments] or found
        token = next((token for token in code if token in gaps), code[0] if code else -1)
        if token > 0 or (token == 0 and token in gaps):  # what begins a text is set at its begin
            margin = _margin_before(tree, token)
            column = len(margin.expandtabs(tab))
            margins[block] = Margin(column, margin)
            planned = fitted.breaks.get(token, 0 if token == 0 else -1)
            is_as_planned = is_as_planned and planned == column and margin == margin_of(column)
    return {} if is_as_planned else _nested(plan, margins)


def _nested(plan: Plan, margins: Mapping[Block, Margin]) -> Mapping[Block, Margin]:
    """The same margins, each with that of the nearest block around it."""
    found: dict[Block, Margin] = {}
    nearest: list[Margin | None] = []
    for number, group in enumerate(plan.groups):
        block = (group.node, group.hanging)
        around = nearest[group.around] if number else None
        if block in margins:
            around = found[block] = margins[block]._replace(around=around)
        nearest.append(around)
    return found


def _margin_before(tree: Tree, token: int) -> bytes:
    """The spaces and tabs that the line of a token begins with; of lines that are joined, the first."""
    text = before_on_line(tree, token)
    return text[:len(text) - len(text.lstrip(b" \t"))]


def _has_comment_below(plan: Plan, group: Group, gaps: Set[int]) -> bool:
    """Whether a comment stays below a block without delimiters that stands further in than its header.

    Its column says to which block it belongs, as long as theirs do not change.
    """
    tree, token = plan.tree, group.end
    if not group.hanging or token not in gaps or token not in plan.comment_set:
        return False
    header = tree.first(tree.parent[group.node])
    while not tree.begins_line(header):
        header -= 1
    return tree.begins_line(token) and source_column(tree, token) > source_column(tree, header)


def _lines(tree: Tree, group: Group) -> Iterator[int]:
    """The tokens that begin an item of a group and a line of the source."""
    if group.node == 0 and not group.hanging:
        yield 0  # the first item of a file begins no gap
    for token, part in zip(group.gaps, group.parts):
        if part != CLOSE and tree.begins_line(token):
            yield token


def _line_begins(tree: Tree) -> list[int]:
    """The tokens that begin a line, in order."""
    starts, count = tree.token_start, len(tree.token_start)
    found = [0] if count else []
    at = tree.data.find(b"\n")
    while at >= 0:
        token = bisect_left(starts, at + 1)  # past brackets that are not there
        if token < count and token > found[-1] and tree.begins_line(token):
            found.append(token)
        at = tree.data.find(
            b"\n", starts[token] if token < count and starts[token] > at else at + 1
        )
    return found


def _any_between(tokens: Sequence[int], low: int, high: int) -> bool:
    """Whether some of these tokens, in order, lies from `low` up to `high`."""
    at = bisect_left(tokens, low)
    return at < len(tokens) and tokens[at] < high
