"""Selectors as data: what must hold of one node (a compound), and of the nodes around it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import field
from functools import cached_property

from stilo.records import dataclass
from stilo.tree.flat import Tree

#: Kinds of nodes, or fields, by their numbers.
Numbers = frozenset[int]


@dataclass(frozen=True)
class Test:
    """A condition that only the node itself can answer (a look ahead or at its text).

    child_kinds: when not None, the condition is that a child is of one of these kinds.
    by_children: whether the kinds of the node's children, in order, permit it; None: they tell nothing of it.
    is_by_children: they tell all of it.
    """

    name: str
    holds: Callable[[Tree, int], bool] = field(compare=False)
    child_kinds: Numbers | None = None
    by_children: Callable[[Sequence[int]], bool] | None = field(default=None, compare=False)
    is_by_children: bool = False


@dataclass(frozen=True)
class Compound:
    """What must hold of one node: kind, field, roles, conditions. None means any."""

    kinds: Numbers | None = None
    fields: Numbers | None = None
    roles: frozenset[str] = frozenset()
    first: bool = False
    tests: tuple[Test, ...] = ()
    within: tuple[tuple[bool, tuple[Compound, ...]], ...] = ()  # (wanted, alternatives)

    def specificity(self) -> tuple[int, int, int]:
        """(fields, roles and conditions, kinds), as Selectors Level 4 counts them."""
        a = 1 if self.fields is not None else 0
        b = len(self.roles) + len(self.tests) + (1 if self.first else 0)
        c = 1 if self.kinds is not None else 0
        for _, alternatives in self.within:
            x, y, z = max(option.specificity() for option in alternatives)
            a, b, c = a + x, b + y, c + z
        return a, b, c

    def matches(
        self,
        kind: int,
        field_number: int,
        roles: frozenset[str],
        is_first: bool,
        holds: Callable[[Test], bool],
    ) -> bool:
        """Whether a node of this description fits; `holds` answers its conditions."""
        if self.kinds is not None and kind not in self.kinds:
            return False
        if self.fields is not None and field_number not in self.fields:
            return False
        if not self.roles <= roles or (self.first and not is_first):
            return False
        for wanted, alternatives in self.within:
            fits = any(o.matches(kind, field_number, roles, is_first, holds) for o in alternatives)
            if fits != wanted:
                return False
        return all(holds(test) for test in self.tests)

    @cached_property
    def possible_kinds(self) -> Numbers | None:
        """The kinds it can match, or None for any."""
        possible = self.kinds
        for wanted, options in self.within:
            kinds = [option.possible_kinds for option in options]
            if wanted and None not in kinds:
                union = frozenset[int]().union(*(k for k in kinds if k is not None))
                possible = union if possible is None else possible & union
        return possible

    @property
    def asks_kind_or_role(self) -> bool:
        """Whether nothing but its kind is asked of a node, or one role of it, or both."""
        asks_more = self.fields is not None or self.first or self.tests or self.within
        return not asks_more and len(self.roles) < 2

    def needs_roles(self) -> bool:
        """Whether any part of it asks for a role."""
        return bool(self.roles) or any(o.needs_roles() for _, opts in self.within for o in opts)

    def needs_field(self) -> bool:
        """Whether any part of it asks for a field."""
        return self.fields is not None or any(o.needs_field() for _, os in self.within for o in os)


@dataclass(frozen=True)
class Selector:
    """Compounds from the outermost to the subject; `joins[i]` stands before compound i+1."""

    compounds: tuple[Compound, ...]
    joins: tuple[str, ...]
    text: str

    @property
    def specificity(self) -> tuple[int, int, int]:
        """The sum over its compounds."""
        parts = [compound.specificity() for compound in self.compounds]
        return (sum(p[0] for p in parts), sum(p[1] for p in parts), sum(p[2] for p in parts))
