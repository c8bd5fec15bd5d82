"""Builds a flat tree node by node, for readers that find the nodes themselves."""

from __future__ import annotations

from stilo.tree.flat import Tree


class TreeBuilder:
    """Takes in nodes in the order of the text. What is opened has to be closed, and to hold some token."""

    def __init__(self, data: bytes) -> None:
        self._data = data
        self._kind: list[int] = []
        self._parent: list[int] = []
        self._leaves: list[int] = []
        self._starts: list[int] = []
        self._ends: list[int] = []
        self._last: dict[int, int] = {}
        self._shape: list[int] = []
        self._around = [-1]

    def open(self, kind: int) -> None:
        """Begin a node."""
        self._shape.append(kind)
        self._parent.append(self._around[-1])
        self._around.append(len(self._kind))
        self._kind.append(kind)

    def leaf(self, kind: int, start: int, end: int) -> None:
        """Add a token: where its text begins and ends, in bytes."""
        self._shape.append(kind)
        self._parent.append(self._around[-1])
        self._leaves.append(len(self._kind))
        self._kind.append(kind)
        self._starts.append(start)
        self._ends.append(end)

    def close(self) -> None:
        """End the node that was begun last."""
        self._shape.append(-1)
        self._last[self._around.pop()] = len(self._leaves) - 1

    def tree(self) -> Tree:
        """The tree. One without tokens has no nodes either."""
        if not self._leaves:
            self._kind, self._parent, self._last, self._shape = [], [], {}, []
        return Tree(
            data=self._data,
            kind=self._kind,
            parent=self._parent,
            token_node=self._leaves,
            token_start=self._starts,
            token_end=self._ends,
            last_token=self._last,
            shape=self._shape,
            inner=frozenset(map(self._kind.__getitem__, self._last)),
            size=len(self._kind),
            is_full=True,
        )
