"""A flat tree with leaves put in for text that its parser did not see."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Collection, Mapping, Sequence
from dataclasses import replace
from itertools import accumulate
from typing import NamedTuple

from stilo.tree.flat import Tree


#: The number that leaves the kind of a token as it is.
SAME_KIND = -1


class Leaf(NamedTuple):
    """A token to put in: where its text begins and ends, and its kind.

    belongs: to what begins behind it (`next`), as a part of it, or to what ends before it (`last`); else it
    stands between the two.
    """

    start: int
    end: int
    kind: int
    belongs: str = ""


def woven(
    tree: Tree,
    data: bytes,
    leaves: Sequence[Leaf],
    root: int,
    dropped: Collection[int] = (),
    renamed: Mapping[int, tuple[int, int]] = {},
) -> Tree:
    """The tree over `data`, with other leaves put in.

    tree: of a text of the same length. leaves: in order, apart, where that text has white space.
    root: the kind of the root, for a tree that has nothing in it. dropped: where tokens begin that the
    text does not have. renamed: where tokens begin → where they end in the text, and their kind.
    """
    if dropped or renamed:
        tree = _mended(tree, dropped, renamed)
    if not leaves:
        return replace(tree, data=data)
    if not tree.kind:
        tree = replace(tree, kind=[root], parent=[-1], last_token={})
    starts, token_node, count = tree.token_start, tree.token_node, len(tree.token_start)
    places: list[int] = []  # before which node each leaf is put
    parents: list[int] = []
    tokens: list[int] = []  # before which token
    for leaf in leaves:
        token = bisect_left(starts, leaf.start)
        place = token_node[token - 1] + 1 if token else min(1, len(tree.kind))
        if token == count and not (leaf.belongs == "last" and token):
            place, parent = len(tree.kind), 0
        elif leaf.belongs == "last" and token:
            parent = tree.parent[token_node[token - 1]]
        elif place in tree.last_token and leaf.belongs == "next":
            parent, place = place, place + 1
        else:
            parent = tree.parent[place]
        if tokens and tokens[-1] == token and places[-1] > place:
            place, parent = places[-1], parents[-1]
        tokens.append(token)
        places.append(place)
        parents.append(parent)
    moved: list[int] = []  # node → where it is then
    before: list[int] = []  # token → how many were put in before it
    for number, (place, token) in enumerate(zip(places, tokens)):
        moved += range(len(moved) + number, place + number)
        before += [number] * (token - len(before))
    moved += range(len(moved) + len(places), len(tree.kind) + len(places))
    before += [len(tokens)] * (count + 1 - len(before))

    kind: list[int] = []
    parent_of: list[int] = []
    node_of: list[int] = []
    begin: list[int] = []
    end: list[int] = []
    at = done = 0
    upper = list(map(moved.__getitem__, tree.parent))
    upper[0] = -1
    leaf_of = list(map(moved.__getitem__, token_node))
    for leaf, place, parent, token in zip(leaves, places, parents, tokens):
        kind += tree.kind[at:place]
        parent_of += upper[at:place]
        node_of += leaf_of[done:token]
        begin += starts[done:token]
        end += tree.token_end[done:token]
        node_of.append(len(kind))
        kind.append(leaf.kind)
        parent_of.append(moved[parent])
        begin.append(leaf.start)
        end.append(leaf.end)
        at, done = place, token
    kind += tree.kind[at:]
    parent_of += upper[at:]
    node_of += leaf_of[done:]
    begin += starts[done:]
    end += tree.token_end[done:]
    last_token = {moved[node]: last + before[last] for node, last in tree.last_token.items()}
    for number, (leaf, parent, token) in enumerate(zip(leaves, parents, tokens)):
        while leaf.belongs == "last" and parent >= 0 and tree.last_token[parent] == token - 1:
            last_token[moved[parent]] = token + number
            parent = tree.parent[parent]
    last_token[0] = len(node_of) - 1
    texts = None
    if tree.known_texts is not None:
        texts = [data[a:b] for a, b in zip(begin, end)]
        for token, text in enumerate(tree.known_texts):
            texts[token + before[token]] = text
    return replace(
        tree,
        data=data,
        kind=kind,
        parent=parent_of,
        token_node=node_of,
        token_start=begin,
        token_end=end,
        last_token=last_token,
        field={moved[node]: number for node, number in tree.field.items()},
        known_texts=texts,
    )


def _mended(tree: Tree, dropped: Collection[int], renamed: Mapping[int, tuple[int, int]]) -> Tree:
    """The tree without some tokens, and with others of another kind."""
    gone = {token for start in dropped if (token := _token_at(tree, start)) is not None}
    kind, ends = list(tree.kind), list(tree.token_end)
    for start, (end, number) in renamed.items():
        token = _token_at(tree, start)
        if token is not None:
            ends[token] = end
            if number != SAME_KIND:
                kind[tree.token_node[token]] = number
    if not gone:
        return replace(tree, kind=kind, token_end=ends, known_texts=None)
    nodes = {tree.token_node[token] for token in gone}
    for token in gone:  # with what holds nothing else
        node = tree.parent[tree.token_node[token]]
        while node > 0 and gone.issuperset(range(tree.first(node), tree.last(node) + 1)):
            nodes.add(node)
            node = tree.parent[node]
    kept_nodes = [node for node in range(len(kind)) if node not in nodes]
    kept = [token for token in range(len(tree.token_node)) if token not in gone]
    number_of = [0] * (len(kind) + 1)
    for number, node in enumerate(kept_nodes):
        number_of[node] = number
    still = list(accumulate(0 if token in gone else 1 for token in range(len(tree.token_node))))
    return replace(
        tree,
        kind=[kind[node] for node in kept_nodes],
        parent=[-1 if tree.parent[n] < 0 else number_of[tree.parent[n]] for n in kept_nodes],
        token_node=[number_of[tree.token_node[token]] for token in kept],
        token_start=[tree.token_start[token] for token in kept],
        token_end=[ends[token] for token in kept],
        last_token={
            number_of[n]: still[last] - 1 for n, last in tree.last_token.items() if n not in nodes
        },
        field={number_of[n]: f for n, f in tree.field.items() if n not in nodes},
        known_texts=None,
    )


def _token_at(tree: Tree, start: int) -> int | None:
    """The token that begins at an offset."""
    token = bisect_left(tree.token_start, start)
    is_there = token < len(tree.token_start) and tree.token_start[token] == start
    return token if is_there else None
