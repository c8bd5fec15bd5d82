"""What the pieces of a page make up: what has lines of its own, and what flows as text, in runs."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Iterator, Mapping, Sequence
from typing import NamedTuple

from stilo.languages.html.elements import (
    BLOCKS, BOXES_OF_ITEMS, PREFORMATTED, RAW, SHOWN_STYLE, UNSHOWN
)
from stilo.languages.html.match import match
from stilo.languages.html.scan import Piece
from stilo.languages.html.sheets import OwnSheets

_DIRECTIVE = re.compile(rb"<!--\s*stilo:[^\n]*-->")
#: What a template has in its own signs.
TEMPLATE = re.compile(rb"\{[%{#]|<[%?]|\$\{")
_SHOWN = re.compile(SHOWN_STYLE.encode(), re.IGNORECASE)


class Part(NamedTuple):
    """A part of what an element holds, as numbers of pieces: something that has lines of its own, or text."""

    is_item: bool
    begin: int
    end: int


class Run(NamedTuple):
    """What stands together in a text, as numbers of pieces. depth: within how many elements of the text it begins.
    is_prose: some of it is text in none of these."""

    begin: int
    end: int
    depth: int
    is_prose: bool


def _is_wide(character: str) -> bool:
    """Whether a character is one of those between which a line end is no space. Hangul has spaces."""
    if not character or unicodedata.east_asian_width(character) not in "WFH":
        return False
    return not unicodedata.name(character, "").startswith("HANGUL")


def _shows_blanks(piece: Piece) -> bool:
    """Whether the white space in an element is shown."""
    if piece.name in PREFORMATTED:
        return True
    return any(a.name == b"style" and _SHOWN.search(a.value) for a in piece.attributes)


class Parts:
    """The parts of a page, as numbers of its pieces. words: see `reader.PageReader`. Raises ScanError."""

    def __init__(self, data: bytes, pieces: Sequence[Piece], words: Mapping[str, str]) -> None:
        self._data = data
        self._pieces = pieces
        self.matched = match(pieces, words, OwnSheets(data, pieces))
        self._joined: dict[int, bool] = {}  # what `_begins_item` answered
        #: Of each piece, whether it is a tag of an element whose white space is shown.
        self.shows_blanks = [
            p.what == "tag" and (reading == "shown" or _shows_blanks(p))
            for p, reading in zip(pieces, self.matched.reading)
        ]

    def split(self, begin: int, end: int, is_foreign: bool) -> list[Part]:
        """The parts of what stands between two pieces."""
        parts: list[Part] = []
        at = begin
        while at < end:
            is_first = at == begin or bool(parts) and parts[-1].is_item
            stop = self._item_end(at, end, is_first, is_foreign)
            if stop:
                parts.append(Part(True, at, stop))
            else:
                stop = self.unit_end(at)
                if parts and not parts[-1].is_item:
                    parts[-1] = parts[-1]._replace(end=stop)
                else:
                    parts.append(Part(False, at, stop))
            at = stop
        return parts

    def is_box(self, at: int) -> bool:
        """Whether an element stands in a line, with white space of its own in it."""
        return self.matched.is_box(self._pieces[at].name, at)

    def _past(self, at: int) -> int:
        """The piece behind an element."""
        return self.matched.close[at] + self.matched.has_end[at]

    def _item_end(self, at: int, end: int, is_first: bool, is_foreign: bool) -> int:
        """Where that ends which begins with a piece and has lines of its own; 0 if it is part of a text."""
        piece = self._pieces[at]
        if piece.what == "declaration":
            return (
                at + 1
                if is_first or self._has_gap(at) or self._begins_item(at, end, is_foreign)
                else 0
            )
        if piece.what == "comment":
            return at + 1 if self._stands_alone(at, end, is_first, is_foreign) else 0
        if piece.what == "end_tag":
            return at + 1 if piece.name in BLOCKS and not self.matched.is_end[at] else 0
        if piece.what != "tag":
            return 0
        past = self._past(at)
        if is_foreign or self.matched.is_block[at]:
            return past
        if piece.name in UNSHOWN:
            is_apart = is_first or self._has_gap(at) or self._begins_item(at, end, is_foreign)
            return past if is_apart else 0
        if not self.is_box(at) and self.matched.has_block[at]:
            return past if self._may_have_lines(at, past, end, is_first) else 0
        return 0

    def _stands_alone(self, at: int, end: int, is_first: bool, is_foreign: bool) -> bool:
        """Whether a comment has lines to itself, or nothing but elements that have beside it."""
        is_last = at + 1 >= end
        before = self.has_line(at) or is_first
        after = is_last or self.has_line(at + 1) or self._begins_item(at + 1, end, is_foreign)
        is_directive = self.is_directive(at) and self.has_line(at)
        return (
            is_directive
            or before and after and not (is_first and is_last and not self.has_line(at))
        )

    def is_directive(self, at: int) -> bool:
        piece = self._pieces[at]
        return _DIRECTIVE.fullmatch(self._data, piece.start, piece.end) is not None

    def _ends_line(self, at: int) -> bool:
        """Whether a line ends before a piece wherever it stands."""
        piece = self._pieces[at]
        is_stray = piece.what == "end_tag" and piece.name in BLOCKS and not self.matched.is_end[at]
        return is_stray or self.matched.is_block[at]

    def _begins_item(self, at: int, end: int, is_foreign: bool) -> bool:
        """Whether no text goes on at a piece to which what stands before it is joined."""
        seen: list[int] = []
        found: bool | None = None
        while found is None:
            seen.append(at)
            if at >= end or self._ends_line(at):
                found = True
            elif is_foreign and self._pieces[at].what == "tag":
                found = True
            elif at in self._joined:
                found = self._joined[at]
            elif self._pieces[at].what not in ("tag", "declaration"):
                found = False
            elif self._pieces[at].what == "declaration" or self._pieces[at].name in UNSHOWN:
                at = self._past(at) if self._pieces[at].what == "tag" else at + 1
                found = True if self._has_gap(at) else None
            elif self.matched.has_block[at] and not self.is_box(at):
                starts = self._ends_line(at + 1)
                found = False if not starts else True if self._ends_with_block(at) else None
                at = self._past(at)
            else:
                found = False
        self._joined.update(dict.fromkeys(seen, found))
        return found

    def _may_have_lines(self, at: int, past: int, end: int, is_first: bool) -> bool:
        """Whether white space may be put inside the tags of an element that is no block, but holds one."""
        starts = is_first or self._has_gap(at) or self._ends_line(at + 1)
        return starts and (self._ends_with_block(at) or self._begins_item(past, end, False))

    def _ends_with_block(self, at: int) -> bool:
        """Whether an element ends with one that ends a line."""
        last = self.matched.close[at] - 1
        is_end = self._pieces[last].what == "end_tag" and self._pieces[last].name in BLOCKS
        return is_end or self.matched.is_block[last]

    def unit_end(self, at: int) -> int:
        """Where that ends which a text takes as a whole from a piece on."""
        piece = self._pieces[at]
        if piece.what != "tag" or piece.is_empty:
            return at + 1
        is_whole = (
            self.is_box(at)
            or piece.name in UNSHOWN
            or piece.name in RAW
            or self.matched.has_block[at]
            or self.shows_blanks[at]
            or self.is_spaced(at)
        )
        return self._past(at) if is_whole else at + 1

    def is_spaced(self, at: int) -> bool:
        """Whether white space stands at the inner edges of an element, or means nothing there."""
        close = self.matched.close[at]
        is_ended = self.matched.has_end[at] and close > at + 1 and self._has_gap(close)
        return is_ended and (self._has_gap(at + 1) or self.follows_gap(at))

    def follows_gap(self, at: int) -> bool:
        """Whether white space right behind a tag shows nothing, since there is some before it, or a line begins."""
        return at == 0 or self._has_gap(at) or self.matched.is_block[at - 1]

    def _has_gap(self, at: int) -> bool:
        """Whether white space stands before a piece, or may: what ends a line stands there."""
        if at and self.is_break(at - 1):
            return True
        start = self._pieces[at - 1].end if at else 0
        end = self._pieces[at].start if at < len(self._pieces) else len(self._data)
        return start < end

    def has_blank_line(self, at: int) -> bool:
        """Whether a blank line stands before a piece, which is not the first."""
        return self._data.count(b"\n", self._pieces[at - 1].end, self._pieces[at].start) > 1

    def has_line(self, at: int) -> bool:
        """Whether a line end stands before a piece."""
        start = self._pieces[at - 1].end if at else 0
        end = self._pieces[at].start if at < len(self._pieces) else len(self._data)
        return at == 0 or b"\n" in self._data[start:end]

    def runs(self, begin: int, end: int) -> Iterator[Run]:
        """The runs of a text."""
        at = begin
        depth = 0
        while at < end:
            first, around, is_prose = at, depth, False
            while at < end and (at == first or not self._has_gap(at)):
                piece, stop = self._pieces[at], self.unit_end(at)
                is_word = piece.what == "word" and not TEMPLATE.match(self._data, piece.start)
                is_prose = is_prose or is_word and not depth
                if piece.what == "tag" and stop == at + 1 and not piece.is_empty:
                    depth += self.matched.has_end[at]
                elif self.matched.is_end[at]:
                    depth -= 1
                at = stop
            yield Run(first, at, around, is_prose)

    def is_tied(self, at: int) -> bool:
        """Whether a line end before a piece is not what a space is: browsers leave it out there.

        Next to a zero-width space, and between two wide characters (CSS Text Module Level 3, 4.1.3).
        """
        before, after = at - 1, at
        while before > max(0, at - 9) and self._pieces[before].what in ("tag", "end_tag"):
            before -= 1
        last = min(at + 9, len(self._pieces) - 1)
        while after < last and self._pieces[after].what in ("tag", "end_tag"):
            after += 1
        end, start = self._pieces[before].end, self._pieces[after].start
        if self._data[end - 1] < 0x80 and self._data[start] < 0x80:
            return False
        left = self._data[max(0, end - 4):end].decode("utf-8", "ignore")[-1:]
        right = self._data[start : start + 4].decode("utf-8", "ignore")[:1]
        return "\u200b" in (left, right) or _is_wide(left) and _is_wide(right)

    def is_break(self, at: int) -> bool:
        """Whether a piece ends a line, so that white space behind it shows nothing."""
        return self._pieces[at].what == "tag" and self._pieces[at].name == b"br"

    def has_items(self, at: int, stop: int) -> bool:
        """Whether a run is an element that holds items, one a line."""
        name = self._pieces[at].name
        is_whole = self._pieces[at].what == "tag" and self.unit_end(at) == stop > at + 2
        return is_whole and name in BOXES_OF_ITEMS

    def is_own_line(self, at: int, stop: int, end: int) -> bool:
        """Whether a run is a template's own, on a line of its own. end: of the text."""
        if not TEMPLATE.match(self._data, self._pieces[at].start):
            return False
        return stop == at + 1 and self.has_line(at) and (stop >= end or self.has_line(stop))
