"""What a sheet says of nodes for the passes that put things in order.

The same selectors and the same automaton as for the layout, over rules of their own; but only
the nodes that are asked for are looked at, and those on the way to them.
"""

from __future__ import annotations

from collections.abc import Iterator

from stilo.sheet.cascade import Cascade, Declared, Sort
from stilo.tree.flat import Tree

#: (around, beside, kind) → state, or a branch; shared by all trees of a language.
Steps = dict[tuple[int, int, int], int]


class Marks:
    """The order properties of the nodes of a tree."""

    def __init__(
        self, cascade: Cascade, steps: Steps, tree: Tree, comments: frozenset[int]
    ) -> None:
        self._cascade, self._steps, self._tree, self._comments = cascade, steps, tree, comments
        self._states: dict[int, int] = {}
        outside = cascade.states[cascade.outside]
        self._edge = outside.beside
        if tree.kind:
            self._states[0] = self._step(outside.around, self._edge, 0)

    def style(self, node: int) -> dict[str, Declared]:
        """All properties of a node, order or not."""
        return self._cascade.style_of(self._state(node))

    def word(self, node: int, name: str) -> str:
        """The value of one property of a node."""
        return str(self.style(node)[name].value)

    def children(self, node: int) -> Iterator[int]:
        """The children of a node, each looked at on the way."""
        tree, states = self._tree, self._cascade.states
        around = states[self._state(node)].around
        beside = self._edge
        for child in tree.children(node):
            if child not in self._states:
                self._states[child] = self._step(around, beside, child)
            if tree.kind[child] not in self._comments:
                beside = states[self._states[child]].beside
            yield child

    def _state(self, node: int) -> int:
        if node not in self._states:
            way = [node]
            while way[-1] not in self._states:
                way.append(self._tree.parent[way[-1]])
            for below, above in zip(way[-2::-1], way[:0:-1]):
                for child in self.children(above):
                    if child == below:
                        break
        return self._states[node]

    def _step(self, around: int, beside: int, node: int) -> int:
        kind = self._tree.kind[node]
        key = (around, beside, kind)
        sort = Sort(kind, self._tree.field.get(node, 0), 0)
        found = None if sort.field else self._steps.get(key)
        if found is None:
            found = self._cascade.step(around, beside, sort)
            if not sort.field:
                self._steps[key] = found
        if found < 0:
            found, _ = self._cascade.follow(found, around, beside, sort, self._tree, node)
        return found
