"""What a sheet says of nodes for the passes that put things in order.

The same selectors and the same automaton as for the layout, over rules of their own; but only
the nodes that are asked for are looked at, and those on the way to them.
"""

from __future__ import annotations

from stilo.sheet.cascade import FIELD_SHIFT, Cascade, Declared, NodeKey
from stilo.tree.flat import Tree

#: (around, beside) → kind → state, or a branch; shared by all trees of a language.
Steps = dict[tuple[int, int], dict[int, int]]


class Marks:
    """The order properties of the nodes of a tree."""

    def __init__(
        self, cascade: Cascade, steps: Steps, tree: Tree, comments: frozenset[int]
    ) -> None:
        self._cascade, self._steps, self._tree, self._comments = cascade, steps, tree, comments
        self._states: dict[int, int] = {}
        self._words: dict[tuple[int, str], str] = {}
        #: Per node the next child to look at, and what stands beside it.
        self._reached: dict[int, tuple[int, int]] = {}
        outside = cascade.states[cascade.outside]
        self._edge = outside.beside
        if tree.kind:
            self._states[0] = self._step(outside.around, self._edge, 0)

    def style(self, node: int) -> dict[str, Declared]:
        """All properties of a node, order or not."""
        return self._cascade.style_of(self.state(node))

    def word(self, node: int, name: str) -> str:
        """The value of one property of a node."""
        state = self._states.get(node)
        key = (self.state(node) if state is None else state, name)
        found = self._words.get(key)
        if found is None:
            found = self._words[key] = str(self.style(node)[name].value)
        return found

    def children(self, node: int) -> list[int]:
        """The children of a node, each looked at on the way."""
        children = list(self._tree.children(node))
        if children and children[-1] not in self._states:
            self._look(node, [children[-1]])
        return children

    def state(self, node: int) -> int:
        """The number of what the sheet says of a node and what is around and beside it."""
        known, parent = self._states, self._tree.parent
        if node not in known:
            way: list[int] = []
            at = node
            while at not in known:
                way.append(at)
                at = parent[at]
            self._look(at, way)
        return known[node]

    def _look(self, node: int, way: list[int]) -> None:
        """Find the states on the way down from a node, to the last of it first.

        Those of children up to the one on the way are found, too, from where it was left off.
        """
        tree, states, known, reached = self._tree, self._cascade.states, self._states, self._reached
        kinds, last_of, leaves = tree.kind, tree.last_token.get, tree.token_node
        comments, has_fields = self._comments, bool(tree.field)
        for below in reversed(way):
            around = states[known[node]].around
            child, beside = reached.get(node, (node + 1, self._edge))
            place = self._place(around, beside)
            while child <= below:
                kind = kinds[child]
                state = -1 if has_fields else place.get(kind, -1)
                if state < 0:
                    state = self._step(around, beside, child)
                known[child] = state
                if states[state].beside != beside and kind not in comments:
                    beside = states[state].beside
                    place = self._place(around, beside)
                end = last_of(child)
                child = child + 1 if end is None else leaves[end] + 1
            reached[node] = (child, beside)
            node = below

    def _place(self, around: int, beside: int) -> dict[int, int]:
        place = self._steps.get((around, beside))
        return self._steps.setdefault((around, beside), {}) if place is None else place

    def _step(self, around: int, beside: int, node: int) -> int:
        packed = self._tree.kind[node] | self._tree.field.get(node, 0) << FIELD_SHIFT
        place = self._place(around, beside)
        found = place.get(packed)
        if found is None:
            found = place[packed] = self._cascade.step(around, beside, NodeKey.of(packed))
        if found < 0:
            found, _ = self._cascade.follow(found, around, beside, packed, self._tree, node)
        return found
