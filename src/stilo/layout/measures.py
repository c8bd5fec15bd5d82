"""How many columns things take: the common settings, and the tokens of a file."""

from __future__ import annotations

import re
from bisect import bisect_right
from collections.abc import Mapping
from itertools import accumulate
from operator import add, sub
from typing import NamedTuple

from stilo.records import dataclass
from stilo.sheet.cascade import Style
from stilo.sheet.properties import Value
from stilo.tree.flat import Tree
from stilo.width import display_width

#: Columns that a tab takes where an author set lines below each other with it.
AUTHOR_TAB = 8
#: What it may take there, the likelier first.
AUTHOR_TABS = (AUTHOR_TAB, 4)


class Measures(NamedTuple):
    """The common settings that a plan needs, in columns, and the density.

    tab: what a tab takes. authored_tabs: what a tab of the source may take where its lines are aligned: as much as in
    what we write, if we indent with tabs, so that a second run finds aligned what the first one aligned.
    """

    width: int
    indent: int
    continuation: int
    density: str = "even"
    tab: int = 4
    authored_tabs: tuple[int, ...] = AUTHOR_TABS

    @classmethod
    def of(cls, values: Mapping[str, Value]) -> Measures:
        """Those among the values of all settings."""
        return cls(
            int(values["width"]),
            int(values["indent"]),
            int(values["continuation"]),
            str(values["density"]),
            int(values["tab-width"]),
            (int(values["tab-width"]),) if values["indent-with"] == "tabs" else AUTHOR_TABS,
        )

    def step(self, style: Style, hanging: bool) -> int:
        """How far the lines of an opened sequence stand in."""
        if hanging:
            how = style["hang"].value
            return self.continuation if how == "soft" else 0 if how == "level" else self.indent
        kind = style["indent"].value
        if style["open"].value == "beside":
            return 0
        if kind == "block":
            return self.indent
        return self.continuation if kind == "continuation" else 0

    def brace(self, style: Style) -> int:
        """How far in a brace stands from the line that begins its construct."""
        return self.indent if style["brace"].value == "own-line-in" else 0


@dataclass(frozen=True)
class Measured:
    """Columns at which each token would start and end if all stood on one line.

    multi: tokens that hold line ends, with the columns of their first and last line and the
    number of further lines.
    """

    starts: list[int]
    ends: list[int]
    multi: dict[int, tuple[int, int, int]]


def measure(tree: Tree, space: list[int], opaque: list[int], trailing: set[int]) -> Measured:
    """Measure the tokens of a file. Comments that end a line of code count as nothing.

    Nor do brackets of their own that are there only where lines break.
    """
    if tree.is_evened:
        widths = list(map(len, tree.texts))
    else:
        widths = list(map(sub, tree.token_end, tree.token_start))
    _correct_widths(tree, widths)
    for opening, closing in tree.soft.items():
        if opening not in tree.firm:
            widths[opening] = widths[closing] = 0
    multi = _find_multiline(tree, opaque, widths)
    if trailing:
        space = list(space)
        for token in trailing:
            widths[token] = space[token] = 0
    ends = list(accumulate(map(add, space, widths)))
    return Measured(list(map(sub, ends, widths)), ends, multi)


def _correct_widths(tree: Tree, widths: list[int]) -> None:
    """Replace byte counts by display columns where a token is not ASCII."""
    if tree.data.isascii():
        return
    done = -1
    for match in re.finditer(rb"[\x80-\xff]+", tree.data):
        token = bisect_right(tree.token_start, match.start()) - 1
        if token > done and match.start() < tree.token_end[token]:
            widths[token] = display_width(tree.token_text(token).decode())
            done = token


def _find_multiline(
    tree: Tree, opaque: list[int], widths: list[int]
) -> dict[int, tuple[int, int, int]]:
    found: dict[int, tuple[int, int, int]] = {}
    texts = tree.texts
    for token in opaque:
        text = texts[token]
        if b"\n" in text:
            first, last = text.find(b"\n"), len(text) - text.rfind(b"\n") - 1
            found[token] = (first, last, text.count(b"\n"))
            widths[token] = first
    return found
