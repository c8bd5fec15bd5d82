"""A flat tree without some of its nodes: their text is white space."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Sequence
from dataclasses import replace

from stilo.edits import blanked
from stilo.tree.flat import Tree


def without(tree: Tree, holes: Sequence[range]) -> Tree:
    """The tree without some runs of its nodes; all others stand where they stood in the text.

    holes: in order, apart, each of whole subtrees, and no parent loses its last child. The shape stays that
    of the whole tree.
    """
    if not holes:
        return tree
    gone = [
        range(bisect_left(tree.token_node, hole.start), bisect_left(tree.token_node, hole.stop))
        for hole in holes
    ]
    number_of = _numbers(len(tree.kind), holes)
    token_of = _numbers(len(tree.token_node), gone)
    texts = tree.known_texts
    return replace(
        tree,
        data=blanked(
            tree.data,
            [(tree.token_start[some[0]], tree.token_end[some[-1]]) for some in gone],
        ),
        kind=_kept(tree.kind, holes),
        parent=[number_of[p] if p >= 0 else p for p in _kept(tree.parent, holes)],
        token_node=[number_of[node] for node in _kept(tree.token_node, gone)],
        token_start=_kept(tree.token_start, gone),
        token_end=_kept(tree.token_end, gone),
        last_token={
            number_of[node]: token_of[last]
            for node, last in tree.last_token.items()
            if number_of[node] >= 0
        },
        field={number_of[n]: name for n, name in tree.field.items() if number_of[n] >= 0},
        known_texts=None if texts is None else [t for t, n in zip(texts, token_of) if n >= 0],
    )


def _kept(numbers: list[int], holes: Sequence[range]) -> list[int]:
    """A list without its items in some runs."""
    found: list[int] = []
    at = 0
    for hole in holes:
        found += numbers[at:hole.start]
        at = hole.stop
    return found + numbers[at:]


def _numbers(count: int, holes: Sequence[range]) -> list[int]:
    """For each of so many items its number without those in some runs; -1 for these."""
    found: list[int] = []
    gone = 0
    for hole in holes:
        found += range(len(found) - gone, hole.start - gone)
        found += [-1] * len(hole)
        gone += len(hole)
    return [*found, *range(len(found) - gone, count - gone)]
