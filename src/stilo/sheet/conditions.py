"""What selectors ask of a node in its tree: what stands in it, before it, and behind it."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence

from stilo.sheet.compounds import Compound, Numbers
from stilo.tree.flat import Tree

#: A way from a node, step by step: what joins it, kinds, None where any fits, and what else is asked.
Path = Sequence[tuple[str, Numbers | None, Compound | None]]
#: Kinds of neighbours, each None where any fits.
Chain = Sequence[Numbers | None]
#: What stands after the last child.
NO_KIND = -1


def has(tree: Tree, node: int, paths: Sequence[Path], comments: Numbers) -> bool:
    """Whether one of the paths leads from the node to anything (`:has()`)."""
    kinds, parents, last_token, leaves = tree.kind, tree.parent, tree.last_token, tree.token_node
    for path in paths:
        deepest = len(path) - 1
        found: Iterable[int] = (node,)
        for depth, (join, wanted, compound) in enumerate(path):
            is_inside, is_deep, is_next = join in "> ", join == " ", join == "+"
            reached: dict[int, None] = {}
            for origin in found:
                if is_inside:
                    at, end = origin + 1, tree.after(origin)
                else:  # comments are no one's sibling
                    home = parents[origin]
                    at, end = tree.after(origin), tree.after(home) if home >= 0 else 0
                while at < end:
                    kind = kinds[at]
                    is_met = is_inside or kind not in comments
                    if is_met and (wanted is None or kind in wanted):
                        if compound is None or fits(tree, at, compound):
                            if depth == deepest:
                                return True
                            reached[at] = None
                    if is_met and is_next:
                        break
                    last = None if is_deep else last_token.get(at)
                    at = at + 1 if last is None else leaves[last] + 1
            found = reached
            if not found:
                break
    return False


def begins(kinds: Sequence[int], chains: Sequence[Chain]) -> bool:
    """Whether kinds of neighbours begin as one of the chains says."""
    return any(
        len(chain) <= len(kinds)
            and all(wanted is None or kind in wanted for kind, wanted in zip(kinds, chain))
        for chain in chains
    )


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


def is_last(tree: Tree, node: int, comments: Numbers) -> bool:
    """Whether no sibling but comments follows the node."""
    return not any(True for _ in siblings_after(tree, node, comments))


def is_empty(tree: Tree, node: int, comments: Numbers) -> bool:
    """Whether nothing stands in the node but its delimiters: two tokens at most."""
    first, last = tree.first(node), tree.last(node)
    if last - first < 2:
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


def fits(tree: Tree, node: int, compound: Compound) -> bool:
    """Whether a node fits a compound selector without roles and fields."""
    is_first = tree.parent[node] == node - 1
    return compound.matches(
        tree.kind[node], 0, frozenset(), is_first, lambda test: test.holds(tree, node)
    )
