"""Brackets of their own: pairs that a value gets where it has to run over several lines.

Where line ends have meaning, a value may be broken only within brackets. A sheet names the places
where the language permits a pair around a value that does nothing else. In each of them the tree is
given such a pair: tokens without text where the source has none. Those of the source that are of
this kind become the same node, so that both are laid out, and come or go, alike.
"""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Mapping, Sequence, Set
from functools import cached_property

from stilo.records import dataclass
from stilo.tree.flat import Tree
from stilo.tree.kinds import Kinds


@dataclass(frozen=True)
class OwnBrackets:
    """Where a grammar permits brackets of their own, in its numbers of kinds.

    signs: the two tokens; opening, closing: their kinds. own: the kind of the node with both around a
    value. around: the kind of node that the grammar has for a value in brackets. follows: (kind
    of the node, kind of the token before the value). never: kinds of values that get none, in or
    out of brackets. listed: kinds of values without brackets → the kind that they are within.
    inside: kinds of nodes that may have a pair around all their children, or, if they have but one,
    around that, or what it begins with, if it is one of the kinds in through; after: the same, around
    those after a token of that kind. clear: (kind of the value, kind of the node around it) of which
    brackets that are there stay, since they show what belongs together. always: kinds that may be opened
    though they fit, so that values that hold them are never spared. setting: the name of the setting by
    which they come and go, or "".
    """

    signs: tuple[bytes, bytes]
    opening: int
    closing: int
    own: int
    around: int
    follows: Set[tuple[int, int]]
    never: Set[int]
    listed: dict[int, int]
    inside: Set[int]
    through: Set[int]
    after: Set[tuple[int, int]]
    clear: Set[tuple[int, int]]
    always: Set[int]
    setting: str

    @classmethod
    def of(cls, facts: Mapping[str, Sequence[str]], kinds: Kinds) -> OwnBrackets:
        """As the facts of a sheet say, by name. Raises UnknownKind."""
        opening, closing, around = facts["own-brackets"]

        def all_of(name: str) -> frozenset[int]:
            return frozenset(n for word in facts.get(name, ()) for n in kinds.numbers(word))

        def turns(name: str) -> frozenset[tuple[int, int]]:
            words = facts.get(name, ())
            return frozenset(
                (kind, token)
                for node, text in zip(words[::2], words[1::2])
                for kind in kinds.numbers(node)
                for token in kinds.numbers(text)
            )

        listed = facts.get("own-listed", ())
        return cls(
            signs=(opening.encode(), closing.encode()),
            opening=min(kinds.numbers(opening)),
            closing=min(kinds.numbers(closing)),
            own=len(kinds.names) - 1,
            around=min(kinds.numbers(around)),
            follows=turns("own-follows"),
            never=all_of("own-never"),
            listed={
                n: min(kinds.numbers(b))
                for a, b in zip(listed[::2], listed[1::2])
                for n in kinds.numbers(a)
            },
            inside=all_of("own-inside"),
            through=all_of("own-through"),
            after=turns("own-after"),
            clear=turns("own-clear"),
            always=all_of("own-always"),
            setting="".join(facts.get("own-kept", ())[:1]),
        )

    @cached_property
    def places(self) -> dict[int, dict[int, tuple[bool, bool]]]:
        """Kind of the token before a value → kind of the node around both → is it one of `follows`,
        of `after`.
        """
        found: dict[int, dict[int, tuple[bool, bool]]] = {}
        for place in self.follows | self.after:
            node, token = place
            found.setdefault(token, {})[node] = (place in self.follows, place in self.after)
        return found


#: A pair to add around nodes that follow each other: the first, and the one after the last; their
#: first and last token; whether the two signs have a node of their own around them. (Plain, since
#: most of them are only looked at.)
_Pair = tuple[int, int, int, int, bool]


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
    pairs, kinds, soft, firm = _find(tree, own, comments)
    if keeps:
        kinds, soft, firm = {}, {}, set()
    spared: dict[int, int] = {}
    if room:
        spared = _on_short_lines(tree, own, pairs, room)
        for token in wanted:
            spared.pop(token, None)
        pairs = [pair for pair in pairs if pair[2] not in spared]
    kind = list(tree.kind)
    for begin, _, _, _, has_node in pairs:
        if not has_node:
            around = kind[begin - 1]
            kind[begin - 1] = own.listed.get(around, around)
    for node, number in kinds.items():
        kind[node] = number
    return _rebuilt(tree, kind, own, pairs, soft, firm, spared, keeps)


def _on_short_lines(tree: Tree, own: OwnBrackets, pairs: list[_Pair], room: int) -> dict[int, int]:
    """Of the values that end the line that their construct begins, and one that seems to fit, the
    first token → the last. Not of those that hold what opens though it fits.
    """
    data, starts, ends, leaves = tree.data, tree.token_start, tree.token_end, tree.token_node
    may_open = not own.always.isdisjoint(tree.inner)
    found: dict[int, int] = {}
    for begin, end, first, last, has_node in pairs:
        if not has_node and _ends_with_separator(tree, begin, last):
            continue  # which goes, unless the list is opened
        start = starts[first]
        line_end = data.find(b"\n", start, ends[last] + 3)
        if line_end < ends[last]:
            continue
        line = data.rfind(b"\n", 0, start)
        length, missing = line_end - line, (last - first) // 2
        if length + missing > room:
            missing = max(0, missing - data.count(b" ", start, line_end))
            if length + missing > room:
                continue
        is_begun_here = starts[bisect_left(leaves, tree.parent[begin])] > line
        held = tree.kind[begin if has_node else begin - 1:end]
        if is_begun_here and not (may_open and not own.always.isdisjoint(held)):
            found[first] = last
    return found


def _ends_with_separator(tree: Tree, begin: int, last: int) -> bool:
    """Whether the last token of a list without brackets is one that stands after its first item, too."""
    leaf, kind = tree.token_node[last], tree.kind
    if tree.parent[leaf] != tree.parent[begin]:
        return False
    second = tree.after(begin)
    return second <= leaf and kind[second] == kind[leaf]


def _find(
    tree: Tree, own: OwnBrackets, comments: Set[int]
) -> tuple[list[_Pair], dict[int, int], dict[int, int], set[int]]:
    """Pairs to add; nodes whose kind changes; opening → closing token of pairs that are there; those that stay."""
    kind, parent, leaves = tree.kind, tree.parent, tree.token_node
    last_of = tree.last_token.get
    pairs: list[_Pair] = []
    kinds: dict[int, int] = {}
    soft: dict[int, int] = {}
    firm: set[int] = set()
    passed = own.never | comments
    places = own.places
    for token in [token for token, leaf in enumerate(leaves) if kind[leaf] in places]:
        leaf = leaves[token]
        around, value = parent[leaf], leaf + 1
        place = places[kind[leaf]].get(kind[around])
        if place is None or value >= len(kind) or parent[value] != around:
            continue
        is_behind, is_after = place
        number = kind[value]
        first = token + 1
        if is_after:
            end = tree.last(around)
            if number == own.opening:
                soft[first] = end
            elif number not in passed:
                pairs.append((value, leaves[end] + 1, first, end, False))
        if not is_behind or number in passed:
            continue
        last = last_of(value, first)
        if number in own.inside and (only := _only_child(tree, value, comments)) >= 0:
            # Of one value alone the brackets are its own.
            value = only
            while kind[value] in own.through:
                value += 1
            number, last = kind[value], last_of(value, first)
            if number in passed:
                continue
        if number in own.inside:
            if kind[value + 1] == own.opening and parent[value + 1] == value:
                if kind[leaves[last]] == own.closing:
                    soft[first] = last
                continue
            pairs.append((value + 1, leaves[last] + 1, first, last, False))
        elif number == own.around:
            inner = [n for n in tree.children(value) if kind[n] not in comments]
            # Brackets within brackets stay, or each run would take away one pair.
            if len(inner) == 3 and kind[inner[1]] not in own.never | {own.around}:
                kinds[value] = own.own
                soft[first] = last
                if (kind[inner[1]], kind[around]) in own.clear:
                    firm.add(first)
        elif number in own.listed:
            pairs.append((value + 1, leaves[last] + 1, first, last, False))
        else:
            pairs.append((value, leaves[last] + 1, first, last, True))
    pairs.sort()
    return pairs, kinds, soft, firm


def _only_child(tree: Tree, node: int, comments: Set[int]) -> int:
    """The child of a node that has but one, and perhaps comments; else -1."""
    only, child, end = -1, node + 1, tree.after(node)
    while child < end:
        if tree.kind[child] not in comments:
            if only >= 0:
                return -1
            only = child
        child = tree.after(child)
    return only


def _rebuilt(
    tree: Tree,
    kind: list[int],
    own: OwnBrackets,
    pairs: list[_Pair],
    soft: dict[int, int],
    firm: set[int],
    spared: dict[int, int],
    is_sealed: bool,
) -> Tree:
    """The tree with pairs added, which do not overlap; all numbers move up after them."""
    node_of = _moved(len(kind), [(b, 1 + has_node, e, 1) for b, e, _, _, has_node in pairs])
    token_of = _moved(
        len(tree.token_node), [(first, 1, last + 1, 1) for _, _, first, last, _ in pairs]
    )
    node_of.append(-1)  # of no node, which is -1: at the root
    parents = [node_of[node] for node in tree.parent]
    leaves = [node_of[node] for node in tree.token_node]
    last_token = {node_of[node]: token_of[token] for node, token in tree.last_token.items()}
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
    return Tree(
        data=tree.data,
        kind=kinds_new,
        parent=parents_new,
        token_node=leaves_new,
        token_start=starts,
        token_end=ends,
        last_token=last_token,
        shape=tree.shape,
        inner=tree.inner,
        size=tree.size,
        is_full=tree.is_full,
        soft=moved_soft,
        firm=frozenset(token_of[token] for token in firm),
        spared={token_of[first]: (token_of[last], first) for first, last in spared.items()},
        bare=tree if spared else None,
        is_sealed=is_sealed,
        is_evened=tree.is_evened,
        field=field,
        known_texts=texts,
        misread=tree.misread,
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
