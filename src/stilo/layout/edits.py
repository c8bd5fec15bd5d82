"""Edits of tokens: all that a layout changes but white space between tokens."""

from __future__ import annotations

from enum import Enum

from stilo.records import dataclass
from stilo.sheet.cascade import Declared


class EditKind(Enum):
    """What an edit does.

    SEPARATOR: the separator after the last item of a list comes or goes. BRACKET: a bracket around a
    value does. IDLE: a token goes that does nothing where it stands. SPELLING: a token is written in
    another way, such as with other quotes. WRAP: comments are wrapped anew. LINES: further lines within
    a text move along with its first. COMMENT: so do those of a comment, or the spaces at their ends go.
    DIRECTIVE: a line for another program has other spaces in it.
    """

    SEPARATOR = "separator"
    BRACKET = "bracket"
    IDLE = "idle"
    SPELLING = "spelling"
    WRAP = "wrap"
    LINES = "lines"
    COMMENT = "comment"
    DIRECTIVE = "directive"

    @property
    def changes_code(self) -> bool:
        """Whether the edit adds, drops or respells what is not white space in code."""
        return self in _OF_CODE


_OF_CODE = frozenset((EditKind.SEPARATOR, EditKind.BRACKET, EditKind.IDLE, EditKind.SPELLING))


@dataclass(frozen=True)
class TokenEdit:
    """One edit of a token; several of the same token follow each other.

    token: its number. before, after: its text. reason: what asked for it: a declaration, or the name
    of a setting that holds everywhere. mark: what each line of a wrapped comment begins with.
    """

    token: int
    kind: EditKind
    before: bytes
    after: bytes
    reason: Declared | str
    mark: bytes = b""

    @property
    def is_gone(self) -> bool:
        """Whether nothing is left of the token."""
        return not self.after
