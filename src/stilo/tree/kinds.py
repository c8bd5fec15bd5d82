"""The kinds of nodes and tokens in the trees of one language."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from functools import cached_property

from stilo.errors import StiloError
from stilo.records import dataclass

#: The name by which selectors match the node around brackets that come and go.
OWN = "own_brackets"


class UnknownKind(StiloError):
    """A sheet names a kind of node, or a token, that the reader does not know."""


@dataclass(frozen=True)
class Kinds:
    """All kinds, numbered from 0.

    names: the name of each; of a token that is always written alike, its text.
    is_named: whether it is a kind of node, and not such a token.
    is_visible: whether it occurs in trees.
    fields: name → number of the fields that children stand in.
    """

    names: Sequence[str]
    is_named: Sequence[bool]
    is_visible: Sequence[bool]
    fields: Mapping[str, int]

    @cached_property
    def by_name(self) -> dict[tuple[str, bool], frozenset[int]]:
        """(name, whether it is a kind of node) → numbers."""
        found: dict[tuple[str, bool], set[int]] = {}
        for number, name in enumerate(self.names):
            if self.is_visible[number]:
                found.setdefault((name, self.is_named[number]), set()).add(number)
        return {key: frozenset(numbers) for key, numbers in found.items()}

    def numbers(self, name: str) -> frozenset[int]:
        """The numbers of a kind of node, or of a token by its text. Raises UnknownKind."""
        nothing = frozenset[int]()
        found = self.by_name.get((name, True), nothing) | self.by_name.get((name, False), nothing)
        if not found:
            raise UnknownKind(f'the grammar has no kind of node or token "{name}"')
        return found

    def signs_of(self, text: str) -> frozenset[int]:
        """The numbers of the token that is always written so; none if there is no such token."""
        return self.by_name.get((text, False), frozenset())

    def with_own_brackets(self) -> Kinds:
        """The same kinds and, as the last, that of nodes around brackets that come and go."""
        return self.with_named((OWN,))

    def with_named(self, names: Sequence[str]) -> Kinds:
        """The same kinds and, as the last, others of nodes."""
        more = (True,) * len(names)
        return replace(
            self,
            names=(*self.names, *names),
            is_named=(*self.is_named, *more),
            is_visible=(*self.is_visible, *more),
        )

    @cached_property
    def signs(self) -> frozenset[int]:
        """The kinds of tokens that are always written alike: punctuation and keywords."""
        return frozenset(number for number, is_named in enumerate(self.is_named) if not is_named)

    @cached_property
    def worded(self) -> dict[int, bytes]:
        """The tokens of two words, such as `not in`: number → text."""
        return {
            number: self.names[number].encode()
            for number in sorted(self.signs)
            if self.names[number].count(" ") == 1 and self.names[number].replace(" ", "").isalpha()
        }

    @cached_property
    def punctuation(self) -> frozenset[str]:
        """The tokens without a letter, digit, underscore or space."""
        return frozenset(
            name
            for name, is_named in self.by_name
            if not is_named
                and name
                and not any(c.isalnum() or c.isspace() or c == "_" for c in name)
        )

    @cached_property
    def never_goes_on(self) -> frozenset[int]:
        """Punctuation that no longer punctuation begins with: no token after it can run into it."""
        return frozenset(
            number
            for name in self.punctuation
            for number in self.by_name[name, False]
            if not any(len(p) > len(name) and p.startswith(name) for p in self.punctuation)
        )

    @cached_property
    def never_joins(self) -> frozenset[int]:
        """Punctuation whose first character is inside no other: it can run into no token before it.

        A dot is left out, since it may go on a number.
        """
        inner = {character for p in self.punctuation for character in p[1:]} | {"."}
        return frozenset(
            number
            for name in self.punctuation
            if name[0] not in inner
            for number in self.by_name[name, False]
        )
