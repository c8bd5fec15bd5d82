"""The cascade: from rules and a style to what is declared for each node.

The selectors are compiled, as they are met, into a top-down automaton: the
state of a node follows from its parent's state, its previous sibling's state
and its own kind and field, so that after the first nodes of a file each
further one is a single look-up. Conditions that only the node itself can
answer (`:last-child`, `:has()`, its text) are branches on that way.
"""

from __future__ import annotations

import threading
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import NamedTuple

from stilo.sheet.parse import Declaration, Rule
from stilo.sheet.properties import PROPERTIES, Value
from stilo.sheet.selectors import Compound, Test
from stilo.tree.flat import Tree


class Declared(NamedTuple):
    """A computed value with where it came from and how strongly it was said."""

    value: Value
    source: Declaration | None
    strength: tuple[int, tuple[int, int, int], int]


Style = Mapping[str, Declared]
Step = tuple[int, int]  # (rule, position in its selector)
Candidate = tuple[int, int, Compound]

_UNSAID = (-1, (0, 0, 0), -1)
INITIAL: dict[str, Declared] = {
    name: Declared(prop.initial, None, _UNSAID) for name, prop in PROPERTIES.items()
}


@dataclass(frozen=True)
class State:
    """What a node hands to its children and its next sibling, and its own style."""

    here: frozenset[Step]  # steps that matched at this node
    above: frozenset[Step]  # … at this node or any around it
    before: frozenset[Step]  # … at this node or any earlier sibling
    roles: frozenset[str]
    style: int


class _Unanswered(Exception):
    def __init__(self, test: Test) -> None:
        self.test = test


class _Branch:
    """A condition to ask of the node, and where each answer leads."""

    __slots__ = ("test", "known", "ways")

    def __init__(self, test: Test, known: dict[str, bool]) -> None:
        self.test = test
        self.known = known
        self.ways: list[int | None] = [None, None]


class Cascade:
    """Rules with a style's values, ready to be applied to trees.

    layers: rules with the number of their layer, weakest first.
    values: the value of each setting.
    Safe to share between threads.
    """

    def __init__(
        self, layers: Sequence[tuple[int, Rule]], values: Mapping[str, Value]
    ) -> None:
        self.lock = threading.RLock()
        self._rules = [rule for _, rule in layers]
        self._values = values
        self._strength = [
            (layer, rule.selector.specificity, order) for order, (layer, rule) in enumerate(layers)
        ]
        self._by_kind: dict[int, tuple[list[Candidate], list[Candidate]]] = {}
        self.states: list[State] = []
        self._state_ids: dict[State, int] = {}
        self.styles: list[dict[str, Declared]] = []
        self._style_ids: dict[tuple[int, ...], int] = {}
        self._style((), frozenset())
        nothing: frozenset[Step] = frozenset()
        self.outside = self._state(State(nothing, nothing, nothing, frozenset(), 0))
        self.branches: list[_Branch] = []

    def style_of(self, state: int) -> dict[str, Declared]:
        """The computed style that a state carries."""
        return self.styles[self.states[state].style]

    def step(self, above: int, left: int, kind: int, field: int) -> int:
        """The state of a node, or (negative) `~index` of the branch to `follow`.

        above, left: states of its parent and its previous sibling, or `outside`.
        """
        with self.lock:
            return self._resolve(above, left, kind, field, {})

    def follow(
        self, branch: int, above: int, left: int, kind: int, field: int, tree: Tree, node: int
    ) -> int:
        """Ask the node the conditions of a branch and of those behind it, down to its state."""
        result = branch
        while result < 0:
            at = self.branches[~result]
            answer = at.test.holds(tree, node)
            way = at.ways[answer]
            if way is None:
                with self.lock:
                    known = {**at.known, at.test.name: answer}
                    way = at.ways[answer] = self._resolve(above, left, kind, field, known)
            result = way
        return result

    def _resolve(
        self, above: int, left: int, kind: int, field: int, known: dict[str, bool]
    ) -> int:
        def holds(test: Test) -> bool:
            if test.name not in known:
                raise _Unanswered(test)
            return known[test.name]

        try:
            return self._compute(self.states[above], self.states[left], left, kind, field, holds)
        except _Unanswered as question:
            self.branches.append(_Branch(question.test, known))
            return ~(len(self.branches) - 1)

    def _compute(
        self,
        above: State,
        left: State,
        left_id: int,
        kind: int,
        field: int,
        holds: Callable[[Test], bool],
    ) -> int:
        is_first = left_id == self.outside
        roles: frozenset[str] = frozenset()
        here: set[Step] = set()
        matched: list[int] = []
        for giving_roles, candidates in zip((True, False), self._candidates(kind)):
            for index, position, compound in candidates:
                selector = self._rules[index].selector
                if not _linked(selector.joins, index, position, above, left):
                    continue
                if compound.matches(kind, field, roles, is_first, holds):
                    if position == len(selector.joins):
                        matched.append(index)
                    else:
                        here.add((index, position))
            if giving_roles:
                given = [i for i in matched if self._rules[i].roles is not None]
                if given:
                    strongest = max(given, key=lambda i: self._strength[i])
                    roles = frozenset(self._rules[strongest].roles or ())
        steps = frozenset(here)
        style = self._style(tuple(sorted(set(matched))), roles)
        before = steps if is_first else steps | left.before
        return self._state(State(steps, above.above | steps, before, roles, style))

    def _candidates(self, kind: int) -> tuple[list[Candidate], list[Candidate]]:
        """The compounds that can match a kind: of rules that give roles, and of the others."""
        if kind not in self._by_kind:
            found: tuple[list[Candidate], list[Candidate]] = ([], [])
            for index, rule in enumerate(self._rules):
                for position, compound in enumerate(rule.selector.compounds):
                    if compound.kinds is None or kind in compound.kinds:
                        found[rule.roles is None].append((index, position, compound))
            self._by_kind[kind] = found
        return self._by_kind[kind]

    def _style(self, matched: tuple[int, ...], roles: frozenset[str]) -> int:
        if matched in self._style_ids:
            return self._style_ids[matched]
        style = dict(INITIAL)
        for index in sorted(matched, key=lambda i: self._strength[i]):
            for declaration in self._rules[index].declarations:
                value = declaration.value
                if declaration.setting is not None:
                    value = self._values[declaration.setting]
                assert value is not None  # the sheet was checked
                style[declaration.name] = Declared(value, declaration, self._strength[index])
        self.styles.append(style)
        self._style_ids[matched] = len(self.styles) - 1
        return len(self.styles) - 1

    def _state(self, state: State) -> int:
        if state not in self._state_ids:
            self.states.append(state)
            self._state_ids[state] = len(self.states) - 1
        return self._state_ids[state]


def _linked(joins: tuple[str, ...], rule: int, position: int, above: State, left: State) -> bool:
    """Whether what must stand before this compound has matched where it must."""
    if position == 0:
        return True
    step = (rule, position - 1)
    join = joins[position - 1]
    if join == ">":
        return step in above.here
    if join == " ":
        return step in above.above
    if join == "+":
        return step in left.here
    return step in left.before
