"""Brackets of their own: pairs that a value gets where it has to run over several lines.

Where line ends have meaning, a value may be broken only within brackets. A sheet names the places
where the language permits a pair around a value that does nothing else. In each of them the tree is
given such a pair: tokens without text where the source has none. Those of the source that are of
this kind become the same node, so that both are laid out, and come or go, alike.
"""

from __future__ import annotations

from collections.abc import Sequence, Set
from dataclasses import dataclass
from functools import cached_property
from itertools import compress, count
from operator import not_
from typing import NamedTuple

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
    those behind a token of that kind. always: kinds that may be opened though they fit, so that
    values that hold them are never spared.
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
    always: Set[int]

    @cached_property
    def arounds(self) -> dict[int, set[int]]:
        """Kind of the token before a value → kinds of the nodes around the two."""
        found: dict[int, set[int]] = {}
        for node, token in self.behind | self.after:
            found.setdefault(token, set()).add(node)
        return found


class _Pair(NamedTuple):
    """A pair to add around nodes that follow each other: the first, and the one behind the last.

    first, last: their tokens. has_node: the two have a node of their own around them.
    """

    begin: int
    end: int
    first: int
    last: int
    has_node: bool


def with_brackets(
    tree: Tree,
    own: OwnBrackets,
    comments: Set[int],
    room: int = 0,
    keeps: bool = False,
    wanted: Sequence[int] = (),
) -> Tree:
    """The tree with brackets of their own in the places where they may stand.

    room: a value on a line of the source that is no longer than this is spared them, unless it begins
    at one of the tokens `wanted`: most lines fit, and whether these do is found out later.
    keeps: those of the source stay as they are, and the others never come.
    """
    pairs, kinds, soft = _find(tree, own, comments)
    if keeps:
        kinds, soft = {}, {}
    spared: list[_Pair] = []
    if room:
        needed = set(wanted)
        is_free = own.always.isdisjoint
        is_spared = [
            p.first not in needed and _is_short(tree, p, room) and is_free(tree.kind[p.begin:p.end])
            for p in pairs
        ]
        spared = list(compress(pairs, is_spared))
        pairs = list(compress(pairs, map(not_, is_spared)))
    kind = list(tree.kind)
    for pair in pairs:
        if not pair.has_node:
            around = kind[pair.begin - 1]
            kind[pair.begin - 1] = own.listed.get(around, around)
    for node, number in kinds.items():
        kind[node] = number
    return _rebuilt(tree, kind, own, pairs, soft, spared, keeps)


def _is_short(tree: Tree, pair: _Pair, room: int) -> bool:
    """Whether a value ends the line that its construct begins, and one that seems to fit."""
    data, starts = tree.data, tree.token_start
    end = data.find(b"\n", starts[pair.first])
    if not 0 <= end - tree.token_end[pair.last] <= 2:
        return False
    begin = data.rfind(b"\n", 0, starts[pair.first])
    blanks = data.count(b" ", starts[pair.first], end)
    missing = max(0, (pair.last - pair.first) // 2 - blanks)
    return end - begin + missing <= room and starts[tree.first(tree.parent[pair.begin])] > begin


def _find(
    tree: Tree, own: OwnBrackets, comments: Set[int]
) -> tuple[list[_Pair], dict[int, int], dict[int, int]]:
    """Pairs to add; nodes whose kind changes; opening → closing token of pairs that are there."""
    kind, parent, leaves = tree.kind, tree.parent, tree.token_node
    last_of = tree.last_token.get
    pairs: list[_Pair] = []
    kinds: dict[int, int] = {}
    soft: dict[int, int] = {}
    passed = own.never | comments
    is_leading = map(own.arounds.__contains__, map(kind.__getitem__, leaves))
    for token in compress(count(), is_leading):
        leaf = leaves[token]
        around, value = parent[leaf], leaf + 1
        if kind[around] not in own.arounds[kind[leaf]]:
            continue
        if value >= len(kind) or parent[value] != around:
            continue
        place, number = (kind[around], kind[leaf]), kind[value]
        first = token + 1
        last = last_of(value, first)
        if place in own.after:
            end = tree.last(around)
            if number == own.opening:
                soft[first] = end
            elif number not in passed:
                pairs.append(_Pair(value, leaves[end] + 1, first, end, False))
        if place not in own.behind or number in passed:
            continue
        if number in own.inside:
            if kind[value + 1] == own.opening and parent[value + 1] == value:
                if kind[leaves[last]] == own.closing:
                    soft[first] = last
                continue
            pairs.append(_Pair(value + 1, leaves[last] + 1, first, last, False))
        elif number == own.around:
            inner = [n for n in tree.children(value) if kind[n] not in comments]
            # Brackets within brackets stay, or each run would take away one pair.
            if len(inner) == 3 and kind[inner[1]] not in own.never | {own.around}:
                kinds[value] = own.own
                soft[first] = last
        elif number in own.listed:
            pairs.append(_Pair(value + 1, leaves[last] + 1, first, last, False))
        else:
            pairs.append(_Pair(value, leaves[last] + 1, first, last, True))
    pairs.sort()
    return pairs, kinds, soft


def _rebuilt(
    tree: Tree,
    kind: list[int],
    own: OwnBrackets,
    pairs: list[_Pair],
    soft: dict[int, int],
    spared: list[_Pair],
    is_sealed: bool,
) -> Tree:
    """The tree with pairs added, which do not overlap; all numbers move up behind them."""
    node_of = _moved(len(kind), [(p.begin, 1 + p.has_node, p.end, 1) for p in pairs])
    token_of = _moved(len(tree.token_node), [(p.first, 1, p.last + 1, 1) for p in pairs])
    parents = list(map([*node_of, -1].__getitem__, tree.parent))
    leaves = list(map(node_of.__getitem__, tree.token_node))
    last_token = dict(
        zip(
            map(node_of.__getitem__, tree.last_token),
            map(token_of.__getitem__, tree.last_token.values()),
        )
    )
    kinds_new: list[int] = []
    parents_new: list[int] = []
    leaves_new: list[int] = []
    starts: list[int] = []
    ends: list[int] = []
    texts: list[bytes] = []
    moved_soft = {token_of[opening]: token_of[closing] for opening, closing in soft.items()}
    node = token = 0
    for begin, end, first, last, has_node in pairs:
        kinds_new += kind[node:begin]
        parents_new += parents[node:begin]
        leaves_new += leaves[token:first]
        starts += tree.token_start[token:first]
        ends += tree.token_end[token:first]
        texts += tree.texts[token:first]
        home = parents[begin]
        opening, closing = len(starts), len(starts) + last - first + 2
        around = tree.parent[begin]
        while around >= 0 and tree.last_token[around] == last:
            last_token[node_of[around]] = closing
            around = tree.parent[around]
        if has_node:
            kinds_new.append(own.own)
            parents_new.append(home)
            home = parents[begin] = len(kinds_new) - 1
            last_token[home] = closing
        moved_soft[opening] = closing
        leaves_new.append(len(kinds_new))
        kinds_new += [own.opening, *kind[begin:end]]
        parents_new += [home, *parents[begin:end]]
        at, stop = tree.token_start[first], tree.token_end[last]
        starts += [at, *tree.token_start[first : last + 1], stop]
        ends += [at, *tree.token_end[first : last + 1], stop]
        texts += [b"", *tree.texts[first : last + 1], b""]
        leaves_new += leaves[first : last + 1]
        leaves_new.append(len(kinds_new))
        kinds_new.append(own.closing)
        parents_new.append(home)
        node, token = end, last + 1
    kinds_new += kind[node:]
    parents_new += parents[node:]
    leaves_new += leaves[token:]
    starts += tree.token_start[token:]
    ends += tree.token_end[token:]
    texts += tree.texts[token:]
    field = {node_of[old]: number for old, number in tree.field.items()}
    rebuilt = Tree(
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
        tree.is_full,
        moved_soft,
        {token_of[p.first]: (token_of[p.last], p.first) for p in spared},
        tree if spared else None,
        is_sealed,
        field,
    )
    rebuilt.__dict__["texts"] = texts  # so that they are not sliced again
    return rebuilt


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
