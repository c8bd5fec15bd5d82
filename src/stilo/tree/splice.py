"""A flat tree in which some children of the root are replaced, without walking the rest again."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Sequence
from itertools import islice

from stilo.edits import Edit
from stilo.tree.flat import Tree


def spliced(old: Tree, top: Tree, edits: Sequence[Edit], size: int) -> Tree | None:
    """The tree of a text after edits that each replace whole children of the root.

    old: the tree before. top: the root's new children, those in the edits looked into. size: the
    number of the grammar's own nodes in the new text. None where that cannot be told, since the
    grammar has nodes without text, or words of its prose are tokens.
    """
    if not (old.is_full and top.is_full) or old.misread or top.misread or old.has_prose:
        return None
    shape = old.shape[:1]
    kind, parent = [old.kind[0]], [-1]
    token_node: list[int] = []
    token_start: list[int] = []
    token_end: list[int] = []
    texts: list[bytes] = []
    last_token: dict[int, int] = {}

    def take(tree: Tree, low: int, high: int, shift: int) -> None:
        """The nodes of tokens from `low` to `high`, further on in the text."""
        begin, end = _node(tree, low), _node(tree, high)
        nodes, tokens = len(kind) - begin, len(token_node) - low
        kind.extend(tree.kind[begin:end])
        parents = tree.parent[begin:end]
        parent.extend([p + nodes if p else 0 for p in parents] if nodes else parents)
        token_node.extend(_further(tree.token_node[low:high], nodes))
        token_start.extend(_further(tree.token_start[low:high], shift))
        token_end.extend(_further(tree.token_end[low:high], shift))
        texts.extend(tree.texts[low:high])
        # Nodes with children, in the order in which they end, as their last tokens do; each ends in a
        # sign in the shape. The root is the last.
        ends = list(tree.last_token.values())[:-1]
        before, behind = bisect_left(ends, low), bisect_left(ends, high)
        ending = islice(tree.last_token, before, behind)
        last_token.update(zip(_further(list(ending), nodes), _further(ends[before:behind], tokens)))
        shape.extend(tree.shape[begin + before : end + behind])

    done = shift = 0
    for edit in edits:
        low, high = (bisect_left(old.token_start, at) for at in (edit.start, edit.end))
        take(old, done, low, shift)
        start = edit.start + shift
        take(
            top,
            bisect_left(top.token_start, start),
            bisect_left(top.token_start, start + len(edit.text)),
            0,
        )
        done = high
        shift += len(edit.text) - (edit.end - edit.start)
    take(old, done, len(old.token_start), shift)
    if shape:
        shape.append(-1)
    if token_node:
        last_token[0] = len(token_node) - 1
    else:  # nothing is left, not even a root
        kind.clear()
        parent.clear()
    return Tree(
        data=top.data,
        kind=kind,
        parent=parent,
        token_node=token_node,
        token_start=token_start,
        token_end=token_end,
        last_token=last_token,
        shape=shape,
        inner=old.inner | top.inner,
        size=size,
        is_full=True,
        is_evened=old.is_evened or top.is_evened,
        known_texts=texts,
    )


def _further(numbers: list[int], by: int) -> list[int]:
    return [number + by for number in numbers] if by else numbers


def _node(tree: Tree, token: int) -> int:
    """The child of the root that begins at a token, which one does; past the last, the end."""
    if token == len(tree.token_node):
        return len(tree.kind)
    return tree.token_node[token - 1] + 1 if token else 1
