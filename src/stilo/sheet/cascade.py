"""The cascade: from rules and a style to what is declared for each node.

The selectors are compiled, as they are met, into a top-down automaton: the
state of a node follows from its parent's state, its previous sibling's state
and its own kind and field, so that after the first nodes of a file each
further one is a single look-up. Conditions that only the node itself can
answer (`:last-child`, `:has()`, its text) are branches on that way.
"""

from __future__ import annotations

import threading
from collections.abc import Callable, Iterator, Mapping, Sequence, Set
from dataclasses import field, replace
from typing import Any, NamedTuple

from stilo.records import dataclass
from stilo.sheet.compounds import Compound, Test
from stilo.sheet.parse import Declaration, Rule
from stilo.sheet.properties import PROPERTIES, Value
from stilo.tree.flat import Tree


class Declared(NamedTuple):
    """A computed value with where it came from and how strongly it was said."""

    value: Value
    source: Declaration | None
    strength: tuple[int, tuple[int, int, int], int]

    @property
    def setting(self) -> str:
        """The setting that gives the value, or ""."""
        return (self.source.setting if self.source is not None else None) or ""


Style = Mapping[str, Declared]
Step = int  # the number of a compound among those of all rules: that of the next one in its selector is one more


class Candidate(NamedTuple):
    """A compound of a rule's selector.

    join: what joins it to the compound before it, or "" if it is the first. rule: the number of the rule if it
    is the last, else -1. is_sure: it fits each node for which it is a candidate.
    """

    step: Step
    compound: Compound
    join: str
    rule: int
    is_sure: bool


_NO_STEPS: frozenset[Step] = frozenset()


@dataclass(frozen=True)
class _Candidates:
    """The compounds that can match a kind, or any: of rules that give roles, of those that ask for
    none, and by a role they ask for."""

    giving_roles: list[Candidate] = field(default_factory=list)
    plain: list[Candidate] = field(default_factory=list)
    by_role: dict[str, list[Candidate]] = field(default_factory=dict)

    def add(self, candidate: Candidate, gives_roles: bool) -> None:
        """Take one in."""
        if gives_roles:
            self.giving_roles.append(candidate)
        elif candidate.compound.roles:
            self.by_role.setdefault(min(candidate.compound.roles), []).append(candidate)
        else:
            self.plain.append(candidate)


_NO_CANDIDATES = _Candidates()


#: What of a parent's and of a left sibling's style decides the gap before a node. No more can be read of these.
SAID_AROUND = tuple(name for name, prop in PROPERTIES.items() if prop.reaches == "children")
SAID_BESIDE = tuple(name for name, prop in PROPERTIES.items() if prop.reaches == "next")

_UNSAID = (-1, (0, 0, 0), -1)
INITIAL: dict[str, Declared] = {
    name: Declared(prop.initial, None, _UNSAID) for name, prop in PROPERTIES.items()
}


@dataclass(frozen=True)
class State:
    """What is known of a node in its place.

    around: what its children need of it; beside: what its next sibling needs. Both are
    numbers that are equal where the needs are, so that few combinations occur.
    """

    around: int
    beside: int
    style: int


@dataclass(frozen=True)
class _Around:
    here: frozenset[Step]  # steps matched at this node whose next is a child
    above: frozenset[Step]  # … at it or around it, whose next is a descendant
    said: int  # a number for what the style says to children


@dataclass(frozen=True)
class _Beside:
    here: frozenset[Step]  # steps matched at this node whose next is the next sibling
    before: frozenset[Step]  # … at it or an earlier sibling, whose next is any later one
    said: int  # a number for what the style says to the next sibling
    is_edge: bool  # no sibling at all: what stands beside a first child


class _Unanswered(Exception):
    def __init__(self, test: Test) -> None:
        self.test = test


Answers = Mapping[str, bool]


#: A kind and, above it, a field and a variant in one number; small, since small ones are fast.
FIELD_SHIFT, VARIANT_SHIFT = 12, 24
_LOW = (1 << FIELD_SHIFT) - 1


class NodeKey(NamedTuple):
    """What selects the rules of a node without a look at the node: its kind, its field (or 0), and whose values hold."""

    kind: int
    field: int
    variant: int

    @classmethod
    def of(cls, packed: int) -> NodeKey:
        """The key that a number packs."""
        return cls(packed & _LOW, packed >> FIELD_SHIFT & _LOW, packed >> VARIANT_SHIFT)


class _Branch:
    """A condition to ask of the node, and where each answer leads."""

    __slots__ = ("known", "children", "test", "holds", "by_children", "ways", "alone")

    def __init__(self, test: Test, known: Answers, children: frozenset[int] | None) -> None:
        self.test = test
        self.holds = test.holds if test.child_kinds is None else None
        self.by_children = test.by_children
        #: The condition, where its answer is not kept by the kinds of children.
        self.alone = self.holds if test.by_children is None else None
        self.known = known
        self.children = children
        self.ways: dict[bool | frozenset[int], int] = {}


class RuleIndex:
    """Rules by the kinds of nodes that they can match: the part of a cascade that depends on no values.

    layers: rules with the number of their layer, weakest first.
    """

    def __init__(self, layers: Sequence[tuple[int, Rule]]) -> None:
        self.rules = [rule for _, rule in layers]
        self.strength = [
            (layer, rule.selector.specificity, order) for order, (layer, rule) in enumerate(layers)
        ]
        self.by_kind: dict[int, _Candidates] = {}
        self.of_any_kind = _Candidates()
        #: What joins each step to the next one.
        self.joins: list[str] = []
        for index, rule in enumerate(self.rules):
            joins = ("", *rule.selector.joins, "")
            last = len(rule.selector.joins)
            for position, compound in enumerate(rule.selector.compounds):
                rule_matched = index if position == last else -1
                candidate = Candidate(
                    len(self.joins),
                    compound,
                    joins[position],
                    rule_matched,
                    compound.asks_kind_or_role,
                )
                self.joins.append(joins[position + 1])
                possible = compound.possible_kinds
                pools = [self.of_any_kind]
                if possible is not None:
                    pools = [self.by_kind.setdefault(kind, _Candidates()) for kind in possible]
                for pool in pools:
                    pool.add(candidate, rule.roles is not None)
        self.askable = frozenset(_asked_child_kinds(self.rules))


class Cascade:
    """Rules with a style's values, ready to be applied to trees.

    variants: the value of each setting, in the file at large and in each region that has its own.
    Safe to share between threads.
    """

    def __init__(self, index: RuleIndex, variants: Sequence[Mapping[str, Value]]) -> None:
        self.lock = threading.RLock()
        self._index = index
        self._rules, self._strength = index.rules, index.strength
        self._variants = variants
        self.states: list[State] = []
        self._state_ids: dict[State, int] = {}
        self._arounds: list[_Around] = []
        self._besides: list[_Beside] = []
        self._ids: dict[_Around | _Beside, int] = {}
        #: What styles say to children and siblings, each once; its numbers; those of each style.
        self._said: list[Style] = []
        self._said_ids: dict[tuple[Declared, ...], int] = {}
        self._said_by: list[tuple[int, int]] = []
        self.styles: list[dict[str, Declared]] = []
        self._style_ids: dict[tuple[int, tuple[int, ...]], int] = {}
        self.branches: list[_Branch] = []
        #: The state around a root and beside a first child.
        self.outside = self._state(frozenset(), frozenset(), frozenset(), self._style((), 0), True)

    def style_of(self, state: int) -> dict[str, Declared]:
        """The computed style that a state carries."""
        return self.styles[self.states[state].style]

    def step(self, around: int, beside: int, key: NodeKey) -> int:
        """The state of a node, or (negative) `~index` of the branch to `follow`.

        around, beside: these numbers of the states of its parent and its previous sibling.
        """
        with self.lock:
            return self._resolve(around, beside, key, {}, None)

    def follow(
        self, branch: int, around: int, beside: int, packed: int, tree: Tree, node: int
    ) -> tuple[int, tuple[int, ...] | None]:
        """Ask the node the conditions of a branch and of those after it, down to its state.

        packed: the key of the node. Second, the kinds of its children, if nothing else was asked for.
        """
        result, only_children = branch, True
        kinds: tuple[int, ...] | None = None
        while result < 0:
            at = self.branches[~result]
            answer: bool | frozenset[int]
            holds, by_children = at.holds, at.by_children
            if kinds is None and (holds is None or by_children is not None):
                kinds = tuple(tree.child_kinds(node))
            if holds is None:
                answer = self._index.askable.intersection(kinds or ())
            elif by_children is None:
                answer, only_children = holds(tree, node), False
            else:
                answer = by_children(kinds or ())
                if answer and not at.test.is_by_children:
                    answer, only_children = holds(tree, node), False
            way = at.ways.get(answer)
            if way is None:
                key = NodeKey.of(packed)
                with self.lock:
                    if isinstance(answer, bool):
                        known = {**at.known, at.test.name: answer}
                        way = self._resolve(around, beside, key, known, at.children)
                    else:
                        way = self._resolve(around, beside, key, at.known, answer)
                    at.ways[answer] = way
            result = way
        return result, kinds if only_children else None

    def _resolve(
        self,
        around: int,
        beside: int,
        key: NodeKey,
        known: Answers,
        children: frozenset[int] | None,
    ) -> int:
        def holds(test: Test) -> bool:
            if test.child_kinds is not None:
                if children is None:
                    raise _Unanswered(test)
                return not children.isdisjoint(test.child_kinds)
            if test.name not in known:
                raise _Unanswered(test)
            return known[test.name]

        try:
            return self._compute(around, beside, key, holds)
        except _Unanswered as question:
            self.branches.append(_Branch(question.test, known, children))
            return ~(len(self.branches) - 1)

    def _compute(
        self, around_id: int, beside_id: int, key: NodeKey, holds: Callable[[Test], bool]
    ) -> int:
        kind, field_number, variant = key
        around, beside = self._arounds[around_id], self._besides[beside_id]
        is_first = beside_id == self.states[self.outside].beside
        roles: frozenset[str] = frozenset()
        here: set[Step] = set()
        matched: set[int] = set()
        of_kind = self._index.by_kind.get(kind, _NO_CANDIDATES)
        of_any = self._index.of_any_kind

        matched_before = {
            ">": around.here, " ": around.above, "+": beside.here, "~": beside.before
        }

        def meet(candidates: Sequence[Candidate]) -> None:
            for step, compound, join, rule, is_sure in candidates:
                if join and step - 1 not in matched_before[join]:
                    continue
                if is_sure or compound.matches(kind, field_number, roles, is_first, holds):
                    if rule >= 0:
                        matched.add(rule)
                    else:
                        here.add(step)

        meet(of_kind.giving_roles)
        meet(of_any.giving_roles)
        given = [i for i in matched if self._rules[i].roles is not None]
        if given:
            strongest = max(given, key=lambda i: self._strength[i])
            roles = frozenset(self._rules[strongest].roles or ())
        meet(of_kind.plain)
        meet(of_any.plain)
        for role in roles:
            meet(of_kind.by_role.get(role, ()))
            meet(of_any.by_role.get(role, ()))
        style = self._style(tuple(sorted(matched)), variant)
        before = frozenset() if is_first else beside.before
        return self._state(here, around.above, before, style)

    def _style(self, matched: tuple[int, ...], variant: int) -> int:
        if (variant, matched) in self._style_ids:
            return self._style_ids[variant, matched]
        values = self._variants[variant]
        style = dict(INITIAL)
        for index in sorted(matched, key=lambda i: self._strength[i]):
            for declaration in self._rules[index].declarations:
                value = declaration.value
                if declaration.setting is not None:
                    value = values[declaration.setting]
                assert value is not None  # the sheet was checked
                style[declaration.name] = Declared(value, declaration, self._strength[index])
        number = self._style_ids[variant, matched] = self._add_style(style)
        return number

    def _add_style(self, style: dict[str, Declared]) -> int:
        self.styles.append(style)
        numbers = []
        for names in (SAID_AROUND, SAID_BESIDE):
            said = tuple(style[name] for name in names)
            if said not in self._said_ids:
                self._said_ids[said] = len(self._said)
                self._said.append(dict(zip(names, said)))
            numbers.append(self._said_ids[said])
        self._said_by.append((numbers[0], numbers[1]))
        return len(self.styles) - 1

    def _state(
        self,
        here: Set[Step],
        above: frozenset[Step],
        before: frozenset[Step],
        style: int,
        is_edge: bool = False,
    ) -> int:
        to_child, to_next = _NO_STEPS, _NO_STEPS
        if here:
            by_join: dict[str, list[Step]] = {}
            for step in here:
                by_join.setdefault(self._index.joins[step], []).append(step)
            to_child, to_next = frozenset(by_join.get(">", ())), frozenset(by_join.get("+", ()))
            above, before = above.union(by_join.get(" ", ())), before.union(by_join.get("~", ()))
        to_children, to_sibling = self._said_by[style]
        around = self._intern(self._arounds, _Around(to_child, above, to_children))
        beside = self._intern(self._besides, _Beside(to_next, before, to_sibling, is_edge))
        state = State(around, beside, style)
        if state not in self._state_ids:
            self.states.append(state)
            self._state_ids[state] = len(self.states) - 1
        return self._state_ids[state]

    def _intern(self, pool: list[Any], value: _Around | _Beside) -> int:
        if value not in self._ids:
            pool.append(value)
            self._ids[value] = len(pool) - 1
        return self._ids[value]

    def altered(self, state: int, changes: Mapping[str, Declared]) -> int:
        """The state that a node has instead when some of its style is otherwise."""
        with self.lock:
            own = self.states[state]
            around, beside = self._arounds[own.around], self._besides[own.beside]
            style = self._add_style({**self.styles[own.style], **changes})
            to_children, to_sibling = self._said_by[style]
            changed = State(
                self._intern(self._arounds, replace(around, said=to_children)),
                self._intern(self._besides, replace(beside, said=to_sibling)),
                style,
            )
            self.states.append(changed)
            return len(self.states) - 1

    def said_around(self, around: int) -> Style:
        """The style of a parent, as far as it decides gaps between its children."""
        return self._said[self._arounds[around].said]

    def said_beside(self, beside: int) -> Style:
        """The style of a previous sibling, as far as it decides the gap after it."""
        return self._said[self._besides[beside].said]


def _asked_child_kinds(rules: Sequence[Rule]) -> Iterator[int]:
    """All kinds that some `:has(> kind)` asks for."""
    for rule in rules:
        for compound in rule.selector.compounds:
            yield from _asked_by(compound)


def _asked_by(compound: Compound) -> Iterator[int]:
    for test in compound.tests:
        yield from test.child_kinds or ()
    for _, options in compound.within:
        for option in options:
            yield from _asked_by(option)
