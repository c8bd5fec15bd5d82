"""A text laid out view by view, put together: each branch as the first view lays it out that reads it."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Iterator, Sequence
from dataclasses import replace
from typing import NamedTuple

from stilo.layout.fit import Fitted
from stilo.layout.plan import Plan
from stilo.layout.render import Rendered
from stilo.tree.flat import Tree


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


def stretches(plans: Sequence[Plan], kind: int) -> list[list[tuple[int, int]]]:
    """The stretches of a text that are taken from each view but the first, in order."""
    found: list[list[tuple[int, int]]] = [[] for _ in plans]
    for number, plan in enumerate(plans):
        tree = plan.tree
        for token in branches_of(tree, kind):
            start, end = tree.token_start[token], tree.token_end[token]
            home = home_of(plans, -1, start, end, kind)  # most often a later view, or one before
            if home is not None and home > number:
                found[home].append((start, end))
    return [sorted(some) for some in found[1:]]


def filled(plans: Sequence[Plan], rendered: Sequence[Rendered], kind: int) -> list[Rendered]:
    """The results of all views, the first as a whole: where one leaves a branch out, with its layout.

    plans, rendered: of each view of one text, in order. kind: of tokens that are branches left out.
    """
    found = list(rendered)
    for number in reversed(range(len(plans) - 1)):
        tokens = list(found[number].tokens)
        tree = plans[number].tree
        for token in branches_of(tree, kind):
            start, end = tree.token_start[token], tree.token_end[token]
            home = home_of(plans, number, start, end, kind)
            if home is not None:
                tokens[token] = _text_of(plans[home].tree, found[home], start, end)
        if tokens != found[number].tokens:
            found[number] = replace(found[number], tokens=tokens)
    return found


def branches_of(tree: Tree, kind: int) -> Iterator[int]:
    """The tokens of a tree that are branches left out."""
    kinds = tree.kind
    return (token for token, node in enumerate(tree.token_node) if kinds[node] == kind)


def home_of(plans: Sequence[Plan], number: int, start: int, end: int, kind: int) -> int | None:
    """The first view after one that reads what stands in a stretch of the text; None if none does."""
    for home in range(number + 1, len(plans)):
        tree = plans[home].tree
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
