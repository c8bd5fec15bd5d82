"""Brackets of their own: pairs that a value gets where it has to run over several lines.

Where line ends have meaning, a value may be broken only within brackets. A sheet names the places
where the language permits a pair around a value that does nothing else. In each of them the tree is
given such a pair: tokens without text where the source has none. Those of the source that are of
this kind become the same node, so that both are laid out, and come or go, alike.
"""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Set
from dataclasses import dataclass

from stilo.tree.flat import Tree

#: The name by which selectors fit the node around such a pair.
OWN = "own_brackets"


@dataclass(frozen=True)
class OwnBrackets:
    """Where a grammar permits brackets of their own, in its numbers of kinds.

    signs: the two tokens; opening, closing: their kinds. own: the kind of the node with both around a
    value. around: the kind of node that the grammar has for a value in brackets. behind: (kind of
    the node, kind of the token before the value). never: kinds of values that get none, in or
    out of brackets. listed: kinds of values without brackets → the kind that they are within.
    inside: kinds of nodes that may have a pair around all their children; after: the same, around
    those behind a token of that kind.
    """

    signs: tuple[bytes, bytes]
    opening: int
    closing: int
    own: int
    around: int
    behind: Set[tuple[int, int]]
    never: Set[int]
    listed: dict[int, int]
    inside: Set[int]
    after: Set[tuple[int, int]]


@dataclass(frozen=True)
class _Pair:
    """A pair to add around nodes that follow each other: the first, and the one behind the last.

    has_node: the two have a node of their own around them.
    """

    begin: int
    end: int
    has_node: bool


def with_brackets(tree: Tree, own: OwnBrackets, comments: Set[int]) -> Tree:
    """The tree with brackets of their own in all places where they may stand."""
    pairs, kinds, soft = _find(tree, own, comments)
    if not pairs:
        tree.soft.update(soft)
        for node, number in kinds.items():
            tree.kind[node] = number
        return tree
    kind = list(tree.kind)
    for node, number in kinds.items():
        kind[node] = number
    return _rebuilt(tree, kind, own, pairs, soft)


def _find(
    tree: Tree, own: OwnBrackets, comments: Set[int]
) -> tuple[list[_Pair], dict[int, int], dict[int, int]]:
    """Pairs to add; nodes whose kind changes; opening → closing token of pairs that are there."""
    kind, parent = tree.kind, tree.parent
    pairs: list[_Pair] = []
    kinds: dict[int, int] = {}
    soft: dict[int, int] = {}
    leading = {token for _, token in own.behind | own.after}
    for leaf in tree.token_node:
        if kind[leaf] not in leading:
            continue
        around, value = parent[leaf], leaf + 1
        if value >= len(kind) or parent[value] != around:
            continue
        if (kind[around], kind[leaf]) in own.after:
            if kind[value] == own.opening:
                soft[tree.first(value)] = tree.last(around)
            elif kind[value] not in comments and kind[value] not in own.never:
                pairs.append(_Pair(value, tree.after(around), False))
        if (kind[around], kind[leaf]) not in own.behind:
            continue
        number = kind[value]
        if number in own.inside:
            if kind[value + 1] == own.opening and parent[value + 1] == value:
                last = tree.last(value)
                if kind[tree.token_node[last]] == own.closing:
                    soft[tree.first(value)] = last
                continue
            pairs.append(_Pair(value + 1, tree.after(value), False))
        elif number == own.around:
            inner = [n for n in tree.children(value) if kind[n] not in comments]
            # Brackets within brackets stay, or each run would take away one pair.
            if len(inner) == 3 and kind[inner[1]] not in own.never | {own.around}:
                kinds[value] = own.own
                soft[tree.first(value)] = tree.last(value)
        elif number in own.listed:
            kinds[value] = own.listed[number]
            pairs.append(_Pair(value + 1, tree.after(value), False))
        elif number not in own.never and number not in comments:
            pairs.append(_Pair(value, tree.after(value), True))
    pairs.sort(key=lambda pair: pair.begin)
    return pairs, kinds, soft


def _rebuilt(
    tree: Tree, kind: list[int], own: OwnBrackets, pairs: list[_Pair], soft: dict[int, int]
) -> Tree:
    """The tree with pairs added, which do not overlap; all numbers move up behind them."""
    firsts = [tree.first(pair.begin) for pair in pairs]
    lasts = [bisect_left(tree.token_node, pair.end) - 1 for pair in pairs]
    node_of = _moved(len(kind), [(p.begin, 1 + p.has_node, p.end, 1) for p in pairs])
    token_of = _moved(len(tree.token_node), [(f, 1, l + 1, 1) for f, l in zip(firsts, lasts)])
    parents = list(map([*node_of, -1].__getitem__, tree.parent))
    leaves = list(map(node_of.__getitem__, tree.token_node))
    kinds_new: list[int] = []
    parents_new: list[int] = []
    leaves_new: list[int] = []
    starts: list[int] = []
    ends: list[int] = []
    last_token: dict[int, int] = {}
    moved_soft = {token_of[opening]: token_of[closing] for opening, closing in soft.items()}
    closing_of = {last: pair.begin for last, pair in zip(lasts, pairs)}
    node = token = 0
    for pair, first, last in zip(pairs, firsts, lasts):
        kinds_new += kind[node:pair.begin]
        parents_new += parents[node:pair.begin]
        leaves_new += leaves[token:first]
        starts += tree.token_start[token:first]
        ends += tree.token_end[token:first]
        home = parents[pair.begin]
        if pair.has_node:
            kinds_new.append(own.own)
            parents_new.append(home)
            home = len(kinds_new) - 1
            parents[pair.begin] = home
        moved_soft[len(starts)] = len(starts) + last - first + 2
        if pair.has_node:
            last_token[home] = len(starts) + last - first + 2
        leaves_new.append(len(kinds_new))
        kinds_new += [own.opening, *kind[pair.begin:pair.end]]
        parents_new += [home, *parents[pair.begin:pair.end]]
        at, stop = tree.token_start[first], tree.token_end[last]
        starts += [at, *tree.token_start[first : last + 1], stop]
        ends += [at, *tree.token_end[first : last + 1], stop]
        leaves_new += leaves[first : last + 1]
        leaves_new.append(len(kinds_new))
        kinds_new.append(own.closing)
        parents_new.append(home)
        node, token = pair.end, last + 1
    kinds_new += kind[node:]
    parents_new += parents[node:]
    leaves_new += leaves[token:]
    starts += tree.token_start[token:]
    ends += tree.token_end[token:]
    for old, last in tree.last_token.items():
        is_around = last in closing_of and old < closing_of[last]
        last_token[node_of[old]] = token_of[last] + is_around
    field = {node_of[old]: number for old, number in tree.field.items()}
    return Tree(
        tree.data,
        kinds_new,
        parents_new,
        leaves_new,
        starts,
        ends,
        last_token,
        tree.shape,
        tree.inner,
        tree.size,
        moved_soft,
        field,
    )


def _moved(count: int, inserted: list[tuple[int, int, int, int]]) -> list[int]:
    """The new number of each of so many, after some are put in: (before which, how many) twice."""
    moved: list[int] = []
    at = shift = 0
    for begin, before, end, behind in inserted:
        moved.extend(range(at + shift, begin + shift))
        shift += before
        moved.extend(range(begin + shift, end + shift))
        shift += behind
        at = end
    moved.extend(range(at + shift, count + shift))
    return moved
