"""What a reader is: it knows the kinds of a language's nodes, and reads texts into trees of them."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Mapping, Sequence, Set
from typing import NamedTuple, Protocol, runtime_checkable

from stilo.edits import Edit
from stilo.errors import Fault
from stilo.source import Source
from stilo.tree.flat import Tree
from stilo.tree.kinds import Kinds


#: Where a stretch of a text begins, and where it ends.
Stretch = tuple[int, int]


class Wanted(NamedTuple):
    """What a language's sheet asks of its trees.

    comments: the kinds that are comments.
    whole: the kinds that are one token, comments among them; what is in them is not looked at.
    top: the kinds of the root's children that `Parsed.top` looks into.
    fields: whether the tree says which field of its parent a node stands in.
    shape: whether the tree keeps the reader's own shape, to compare results by it.
    """

    comments: frozenset[int] = frozenset()
    whole: frozenset[int] = frozenset()
    top: frozenset[int] = frozenset()
    fields: bool = False
    shape: bool = True


class Item(NamedTuple):
    """A node in a body: its kind, where its text begins and ends, and whether some of it could not be read."""

    kind: int
    start: int
    end: int
    is_broken: bool


class Body(NamedTuple):
    """A node whose children have lines of their own: its kind, and these, delimiters and comments among them."""

    kind: int
    items: Sequence[Item]


class Parsed(Protocol):
    """A text as a reader understands it, errors included."""

    @property
    def has_error(self) -> bool:
        """Whether some of the text could not be read."""

    @property
    def size(self) -> int:
        """The number of nodes that the reader found, those without text included."""

    @property
    def others(self) -> Sequence[Parsed]:
        """The further views of the text: each reads some of what this one leaves out (see `readers.views`)."""

    @property
    def is_plain(self) -> bool:
        """Whether each part of the text, read by itself, gives what it gives here."""

    @property
    def together(self) -> Sequence[Sequence[Stretch]]:
        """Groups of lines of which each means nothing without the others."""

    def is_seen(self, start: int, end: int) -> bool:
        """Whether all of a stretch is in this view, and no other view has other text there."""

    def part(self, data: bytes, kept: Sequence[Stretch]) -> Parsed | None:
        """A text that consists of some stretches of this one, read as they are here.

        None if they cannot be, or if they are read so anyhow (see `is_plain`).
        """

    @property
    def unread(self) -> Sequence[Stretch]:
        """Where whole lines stay as they are, since they could not be read."""

    @property
    def tree(self) -> Tree:
        """The flat tree. Text between tokens that is not white space belongs to the token before it."""

    @property
    def top(self) -> Tree:
        """The flat tree of the root's children. Only those of the kinds `Wanted.top` are looked into."""

    def fault(self, source: Source, pairs: Mapping[str, str]) -> Fault:
        """The first error. source: the text. pairs: opening → closing delimiter."""

    def leading_comments(self) -> list[str]:
        """The comments before all code. The text may have errors."""

    def bodies(self, start: int, end: int, kinds: Set[int]) -> Sequence[Body]:
        """The bodies that a stretch of the text lies in, the root first. kinds: what is a body beside it.

        The text may have errors. None, where places are not known before the tree is.
        """

    def edited(self, data: bytes, edits: Sequence[Edit]) -> Parsed:
        """The text after some edits, read as if it were read anew. data: the new text."""

    def edited_alike(self, data: bytes, edits: Sequence[Edit]) -> Parsed | None:
        """The same, if all that was not edited is read as before; None if it may not be."""

    def shape(self, inner: Set[int]) -> list[int]:
        """The shape of the tree (see `Tree.shape`). inner: the kinds that are looked into."""

    def same_as(self, tree: Tree) -> bool:
        """Whether this text has the shape of another one's tree, node for node."""


class OneView(ABC):
    """What holds of any text that is read as a whole, in one view (see `Parsed`)."""

    @abstractmethod
    def edited(self, data: bytes, edits: Sequence[Edit]) -> Parsed:
        """The text after some edits."""

    def edited_alike(self, data: bytes, edits: Sequence[Edit]) -> Parsed:
        """The same: no part of it says how others are read."""
        return self.edited(data, edits)

    @property
    def others(self) -> Sequence[Parsed]:
        """No other view."""
        return ()

    @property
    def is_plain(self) -> bool:
        """Always."""
        return True

    @property
    def together(self) -> Sequence[Sequence[Stretch]]:
        """None."""
        return ()

    def is_seen(self, start: int, end: int) -> bool:
        """Always."""
        return True

    def part(self, data: bytes, kept: Sequence[Stretch]) -> None:
        """None: it is read so anyhow."""

    @property
    def unread(self) -> Sequence[Stretch]:
        """Nothing."""
        return ()


class Reader(Protocol):
    """Reads texts of one language. Safe to share between threads."""

    @property
    def name(self) -> str:
        """What messages call it."""

    @property
    def kinds(self) -> Kinds:
        """The kinds of nodes and tokens in its trees."""

    def read(self, data: bytes, wanted: Wanted) -> Parsed:
        """Read a text (UTF-8, with `\\n` as line end)."""


@runtime_checkable
class WordReader(Protocol):
    """A reader to which a style may name words, each with how it is read (see the setting `known-words`)."""

    @property
    def readings(self) -> tuple[str, ...]:
        """How words may be read."""

    def with_words(self, known: Mapping[bytes, str]) -> Reader:
        """The same reader, which knows these words, each with its reading."""


@runtime_checkable
class AskingReader(Protocol):
    """A reader that reads texts otherwise where some settings have other values."""

    @property
    def asked(self) -> tuple[str, ...]:
        """The names of these settings."""

    def with_values(self, values: Mapping[str, str]) -> Reader:
        """The same reader, with the values of some of them that are not at their default."""
