"""A text laid out view by view, put together: each branch as the first view lays it out that reads it."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Sequence, Set
from dataclasses import replace
from typing import NamedTuple

from stilo.layout.fit import Fitted
from stilo.layout.near import BLANK_LINE, near
from stilo.layout.plan import Plan
from stilo.layout.render import Rendered
from stilo.tree.flat import Tree
from stilo.tree.thin import without


class View(NamedTuple):
    """A further view of a text, laid out, and the stretches of the text that are taken from it."""

    plan: Plan
    fitted: Fitted
    rendered: Rendered
    stretches: Sequence[tuple[int, int]]

    def holds(self, offset: int) -> bool:
        """Whether what stands at an offset of the text is taken from this view."""
        return any(start <= offset < end for start, end in self.stretches)

    @property
    def tokens(self) -> list[int]:
        """The tokens that are taken from this view."""
        starts = self.plan.tree.token_start
        return [
            token
            for start, end in self.stretches
            for token in range(bisect_left(starts, start), bisect_left(starts, end))
        ]


def thinned(
    trees: Sequence[Tree], kind: int, lines: Set[int], bodies: Set[int], comments: Set[int]
) -> list[Tree]:
    """The trees of all views, the further ones without what has no say in the layout of the stretches taken from them.

    What is near stays, as in an excerpt: of a body that holds such a stretch what it begins and ends with, the items
    beside the stretch as far as no blank line parts them, and one more on each side.

    kind: of tokens that are branches left out. lines: of those and of directives, which all stay. bodies: the
    kinds of nodes whose children are items. comments: their kinds.
    """
    found = [trees[0]]
    for tree, wanted in zip(trees[1:], stretches(trees, kind)):
        stays = _around(tree, wanted)
        found.append(without(tree, _holes(tree, stays, lines, bodies, comments)))
    return found


def _around(tree: Tree, wanted: Sequence[tuple[int, int]]) -> set[int]:
    """The nodes that hold some of the tokens in some stretches."""
    found = {0}
    for start, end in wanted:
        low, high = bisect_left(tree.token_start, start), bisect_left(tree.token_start, end)
        for node in tree.token_node[low:high]:
            while node not in found:
                found.add(node)
                node = tree.parent[node]
    return found


def _holes(
    tree: Tree, stays: Set[int], lines: Set[int], bodies: Set[int], comments: Set[int]
) -> list[range]:
    """The runs of nodes that have no say in the layout of those that stay, in order."""
    found: list[range] = []
    todo = [0]
    while todo:
        node = todo.pop()
        children = list(tree.children(node))
        is_body = not node or tree.kind[node] in bodies
        kept = _kept(tree, children, stays, comments) if is_body else range(len(children))
        for number, child in enumerate(children):
            if child in stays:
                todo.append(child)
            elif number not in kept and tree.kind[child] not in lines:
                found.append(range(child, tree.after(child)))
    return sorted(found, key=lambda hole: hole.start)


def _kept(tree: Tree, children: Sequence[int], stays: Set[int], comments: Set[int]) -> set[int]:
    """The numbers of the children of a body that have a say in the layout of those that stay."""
    count = len(children)

    def is_code(number: int) -> bool:
        return tree.kind[children[number]] not in comments

    def is_parted(number: int) -> bool:
        return BLANK_LINE.search(tree.between(tree.first(children[number]))) is not None

    wanted = {number for number, child in enumerate(children) if child in stays}
    head = next(filter(is_code, range(1, count)), count - 1)
    return {*range(head + 1), count - 1, *near(wanted, count, is_code, is_parted)}


def stretches(trees: Sequence[Tree], kind: int) -> list[list[tuple[int, int]]]:
    """The stretches of a text that are taken from each view but the first, in order."""
    found: list[list[tuple[int, int]]] = [[] for _ in trees]
    for number, tree in enumerate(trees):
        for token in tree.tokens_of({kind}):
            start, end = tree.token_start[token], tree.token_end[token]
            home = home_of(trees, -1, start, end, kind)  # most often a later view, or one before
            if home is not None and home > number:
                found[home].append((start, end))
    return [sorted(some) for some in found[1:]]


def filled(trees: Sequence[Tree], rendered: Sequence[Rendered], kind: int) -> list[Rendered]:
    """The results of all views, the first as a whole: where one leaves a branch out, with its layout.

    trees, rendered: of each view of one text, in order. kind: of tokens that are branches left out.
    """
    found = list(rendered)
    for number in reversed(range(len(trees) - 1)):
        tokens = list(found[number].tokens)
        tree = trees[number]
        for token in tree.tokens_of({kind}):
            start, end = tree.token_start[token], tree.token_end[token]
            home = home_of(trees, number, start, end, kind)
            if home is not None:
                tokens[token] = _text_of(trees[home], found[home], start, end)
        if tokens != found[number].tokens:
            found[number] = replace(found[number], tokens=tokens)
    return found


def home_of(trees: Sequence[Tree], number: int, start: int, end: int, kind: int) -> int | None:
    """The first view after one that reads what stands in a stretch of the text; None if none does."""
    for home in range(number + 1, len(trees)):
        tree = trees[home]
        token = bisect_left(tree.token_start, start)
        if token < len(tree.token_start) and tree.token_start[token] < end:
            is_out = tree.kind[tree.token_node[token]] == kind and tree.token_end[token] >= end
            if not is_out:
                return home
    return None


def _text_of(tree: Tree, rendered: Rendered, start: int, end: int) -> bytes:
    """What a view makes of a stretch of whole lines, from the margin of the first one on."""
    low, high = bisect_left(tree.token_start, start), bisect_left(tree.token_start, end)
    pieces = [rendered.gaps[low].rpartition(b"\n")[2], rendered.tokens[low]]
    for token in range(low + 1, high):
        pieces += [rendered.gaps[token], rendered.tokens[token]]
    return b"".join(pieces)
