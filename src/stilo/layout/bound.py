"""Comments that act on a line, such as those that tell another program to pass over it.

Such a comment stands after code and acts on its line, or above it and acts on the next. It must go on
acting on the same code: where a layout would put other tokens on that line, the statement keeps its lines.
"""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Callable, Sequence

from stilo.layout.fit import Fitted
from stilo.layout.kept import line_starts, statements_in
from stilo.layout.plan import Plan
from stilo.layout.render import Rendered


def moved_from_lines(plan: Plan, fitted: Fitted, rendered: Rendered) -> list[range]:
    """The statements, as runs of tokens, whose layout takes a comment from the code that it acts on."""
    tree = plan.tree
    moved: list[tuple[int, int]] = []
    for comment in plan.bound:
        before = _acted_on(plan, comment, tree.texts, tree.between)
        after = _acted_on(plan, comment, rendered.tokens, rendered.gaps.__getitem__)
        if [token for token in before if token not in rendered.gone] != after:
            both = [comment, *before, *after]
            moved.append((tree.token_start[min(both)], tree.token_end[max(both)]))
    if not moved:  # nearly always
        return []
    starts = line_starts(plan, fitted, is_laid_out=True)
    bounds = [*starts, len(tree.token_node)]
    runs: dict[range, None] = {}
    for stretch in moved:
        found = statements_in(tree, starts, stretch)
        begin = found[0]
        while begin <= min(found[-1], bounds[-1] - 1):
            end = bounds[bisect_right(bounds, begin)]
            runs[range(begin, end)] = None
            begin = end
    return list(runs)


def _acted_on(
    plan: Plan, comment: int, tokens: Sequence[bytes], gap: Callable[[int], bytes]
) -> list[int]:
    """The tokens of code on the line that a comment acts on.

    tokens, gap: the text of tokens, and that before each, in the source or in its result.
    """
    comments = plan.comment_set
    found: list[int] = []
    token = comment
    while token > 0 and b"\n" not in gap(token):
        token -= 1
        if tokens[token] and token not in comments:
            found.insert(0, token)
        if b"\n" in tokens[token]:
            break
    if found:  # it stands after them
        return found
    token = comment + 1
    count = len(plan.tree.token_node)
    while token < count and (token in comments or not tokens[token]):
        token += 1
    while token < count:
        if tokens[token] and token not in comments:
            found.append(token)
        if b"\n" in tokens[token] or (token + 1 < count and b"\n" in gap(token + 1)):
            break
        token += 1
    return found
