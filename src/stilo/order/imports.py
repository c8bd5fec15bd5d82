"""What an import says: the names that it makes known, and how its form writes them."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import field

from stilo.records import dataclass

#: The name that stands for all names of a module, and what an import binds of which no name is known.
ALL, NOTHING = "*", "none"


@dataclass(frozen=True)
class Entry:
    """One name (or module) that an import makes known.

    name: "" for the module as a whole. alias: another name for it, or "". mark: a word before it that
    says of what sort it is, or "". lead, trail: comments on lines of their own above it, and on
    its line after it. offset: where it stands in the source.
    """

    name: str
    alias: str = ""
    mark: str = ""
    lead: tuple[bytes, ...] = ()
    trail: tuple[bytes, ...] = ()
    offset: int = field(default=0, compare=False)

    @property
    def has_comments(self) -> bool:
        """Whether a comment stays with it."""
        return bool(self.lead or self.trail)


@dataclass(frozen=True)
class Form:
    """How imports of one form are written; see the properties of the same names."""

    name: str
    writes: str
    writes_alias: str
    wraps: str
    binds: str
    offers: str
    star: str

    @property
    def takes_many(self) -> bool:
        """Whether one import may hold several names."""
        return "{names}" in self.writes

    @property
    def is_path(self) -> bool:
        """Whether the module and the name are written as one path."""
        return "{module}.{name}" in self.writes


@dataclass(frozen=True)
class Import:
    """One statement that imports.

    module: what the names are taken from; "" where the entries are modules themselves. quoted: the same
    as it is written. tail: what is written after the last part of it.
    start, end: its extent in the source. lead: the text from the comments above it on; heading: of
    those, what speaks of all the imports in its paragraph. trail: the comments after it on its
    line. head: comments after the bracket before its names. is_plain: nothing stands in it
    but what is told here, so that it can be written anew. moves: as the property.
    paragraph: the number of its paragraph. blank: how many blank lines stand before it.
    is_crowded: something else stands on its line. source: which of the imports in the source it
    was, for those that were made of it. text: as it is to be written. rest: where other code
    begins that a sign parts from it on its line, or 0. is_headed: a comment right above it opens the
    file, and stays there. is_within: it stands in a body within the text.
    """

    node: int
    form: Form
    module: str
    entries: tuple[Entry, ...]
    start: int
    end: int
    text: bytes
    moves: str = "yes"
    lead: bytes = b""
    heading: bytes = b""
    trail: bytes = b""
    head: tuple[bytes, ...] = ()
    is_plain: bool = True
    paragraph: int = 0
    blank: int = 0
    is_crowded: bool = False
    source: int = -1
    rest: int = 0
    is_headed: bool = False
    is_within: bool = False
    quoted: str = ""
    tail: str = ""

    @property
    def path(self) -> str:
        """What it is put in order by: the module, and the name if both are one path."""
        if not self.module:
            return self.entries[0].name if self.entries else ""
        if self.form.is_path and self.entries:
            return f"{self.module}.{self.entries[0].name}"
        return self.module

    @property
    def has_comments(self) -> bool:
        """Whether comments of its own stay with it; not those of its names."""
        return bool(self.lead or self.trail)

    @property
    def has_inner_comments(self) -> bool:
        """Whether comments stand within it."""
        return bool(self.head) or any(entry.has_comments for entry in self.entries)

    def bindings(self) -> Iterator[tuple[str, str]]:
        """Each name it makes known in the file, and what that is; not those after a star."""
        for entry in self.entries:
            if entry.name == ALL or self.form.binds == "nothing" and not entry.alias:
                continue
            whole = f"{self.module}:{entry.name}" if self.module else entry.name
            if entry.alias:
                yield entry.alias, whole
            elif self.form.binds == "first":
                first = entry.name.partition(".")[0]
                yield first, first
            else:
                yield entry.name.rpartition(".")[2], whole
