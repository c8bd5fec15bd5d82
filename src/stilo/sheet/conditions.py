"""What selectors ask of a node in its tree: what stands in it, before it, and behind it."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from typing import NamedTuple

from stilo.sheet.compounds import Compound, Numbers
from stilo.tree.flat import Tree


class Step(NamedTuple):
    """A step of a way from a node.

    join: what joins it. kinds: those that fit; None: any. first, last: whether it has to be the first child, the
    last one. more: what else is asked.
    """

    join: str
    kinds: Numbers | None
    first: bool
    last: bool
    more: Compound | None


#: A way from a node, step by step.
Path = Sequence[Step]
#: Kinds of neighbours, each None where any fits.
Chain = Sequence[Numbers | None]
#: What stands before the first child and after the last one.
NO_KIND = -1


def has(tree: Tree, node: int, paths: Sequence[Path], comments: Numbers) -> bool:
    """Whether one of the paths leads from the node to anything (`:has()`)."""
    kinds, parents, leaves, last_of = tree.kind, tree.parent, tree.token_node, tree.last_token.get
    for path in paths:
        deepest = len(path) - 1
        found: Iterable[int] = (node,)
        for depth, (join, wanted, at_begin, at_end, compound) in enumerate(path):
            is_inside, is_deep, is_next = join in "> ", join == " ", join == "+"
            reached: dict[int, None] = {}
            for origin in found:
                if is_inside:
                    last = last_of(origin)
                    if last is None:  # nothing is in a leaf
                        continue
                    at, end = origin + 1, leaves[last] + 1
                elif depth and kinds[origin] in comments:  # they are no one's sibling
                    continue
                else:
                    home = parents[origin]
                    at, end = tree.after(origin), tree.after(home) if home >= 0 else 0
                while at < end:
                    kind = kinds[at]
                    is_met = is_inside or kind not in comments
                    if (
                        is_met
                        and (wanted is None or kind in wanted)
                        and (not at_begin or is_first(tree, at, comments))
                        and (not at_end or is_last(tree, at, comments))
                        and (compound is None or fits(tree, at, compound, comments))
                    ):
                        if depth == deepest:
                            return True
                        reached[at] = None
                    if is_met and is_next or at_begin and not is_deep and kind not in comments:
                        break
                    last = None if is_deep else last_of(at)
                    at = at + 1 if last is None else leaves[last] + 1
            found = reached
            if not found:
                break
    return False


def has_run(
    children: Sequence[int], chains: Sequence[Chain], first: Numbers, comments: Numbers
) -> bool:
    """Whether children next to each other are of the kinds that one of the chains says.

    children: the kinds of all. first: the kinds with which the chains begin. Comments are left out.
    """
    if not comments.isdisjoint(children):
        children = [kind for kind in children if kind not in comments]
    if NO_KIND not in first and first.isdisjoint(children):
        return False
    kinds = [NO_KIND, *children, NO_KIND]
    return any(begins(kinds, chains, at) for at, kind in enumerate(kinds) if kind in first)


def begins(kinds: Sequence[int], chains: Sequence[Chain], start: int = 0) -> bool:
    """Whether kinds of neighbours, from one of them on, begin as one of the chains says."""
    count = len(kinds)
    for chain in chains:
        at = start
        for wanted in chain:
            if at == count or (kinds[at] < 0 if wanted is None else kinds[at] not in wanted):
                break
            at += 1
        else:
            return True
    return False


def kinds_after(tree: Tree, node: int, comments: Numbers, first: Numbers, most: int) -> list[int]:
    """The kinds of so many later siblings of a node, comments left out; none if not so begun."""
    kinds, parents, after = tree.kind, tree.parent, tree.after
    found: list[int] = []
    sibling, home = after(node), parents[node]
    while sibling < len(kinds) and parents[sibling] == home:
        kind = kinds[sibling]
        if kind not in comments:
            if not found and kind not in first:
                break
            found.append(kind)
            if len(found) == most:
                break
        sibling = after(sibling)
    return found


def is_first(tree: Tree, node: int, comments: Numbers) -> bool:
    """Whether no sibling but comments stands before the node."""
    at = tree.parent[node] + 1
    while tree.kind[at] in comments and at < node:
        at = tree.after(at)
    return at == node


def is_last(tree: Tree, node: int, comments: Numbers) -> bool:
    """Whether no sibling but comments follows the node."""
    return not any(True for _ in siblings_after(tree, node, comments))


def is_empty(tree: Tree, node: int, comments: Numbers) -> bool:
    """Whether nothing stands in the node but its delimiters: two tokens at most."""
    last = tree.last_token.get(node)
    first = tree.first(node)
    if last is None or last - first < 2:
        return True
    found = 0
    for token in range(first, last + 1):
        if tree.kind[tree.token_node[token]] not in comments:
            found += 1
            if found > 2:
                return False
    return True


def comment_before(tree: Tree, node: int, comments: Numbers) -> int:
    """The comment right before a node, if it does not end a line of code; else -1."""
    token = tree.first(node) - 1
    if token < 0 or tree.kind[tree.token_node[token]] not in comments:
        return -1
    is_beside = not tree.begins_line(token + 1)
    return tree.token_node[token] if is_beside or tree.begins_line(token) else -1


def siblings_after(tree: Tree, node: int, comments: Numbers) -> Iterator[int]:
    """The later siblings of a node, comments left out."""
    sibling = tree.after(node)
    while sibling < len(tree.kind) and tree.parent[sibling] == tree.parent[node]:
        if tree.kind[sibling] not in comments:
            yield sibling
        sibling = tree.after(sibling)


def fits(tree: Tree, node: int, compound: Compound, comments: Numbers) -> bool:
    """Whether a node fits a compound selector without roles and fields."""
    begins = is_first(tree, node, comments)
    return compound.matches(
        tree.kind[node], 0, frozenset(), begins, lambda test: test.holds(tree, node)
    )
