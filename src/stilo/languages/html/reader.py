"""Reads pages: elements one below the other, and in each either these or words and tags that flow as text.

White space is a token's own business nowhere, but whether there is any between two words or tags of a text is
kept: what stands together without any is one `run`. Where it is shown as it is (`pre` and its kin), all of it is
in one token.
"""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Iterator, Mapping, Sequence
from types import MappingProxyType
from typing import Any, NamedTuple

from stilo.languages.html.elements import (
    BLOCKS, BOXES, BOXES_OF_ITEMS, FIXED_CODE, PREFORMATTED, RAW, SHOWN_STYLE, UNSHOWN
)
from stilo.languages.html.match import match
from stilo.languages.html.scan import BLANKS, Attribute, Piece, ScanError, scan
from stilo.readers.built import BuiltParsed
from stilo.readers.reader import Wanted
from stilo.tree.build import TreeBuilder
from stilo.tree.kinds import Kinds

_NODES = (
    "document",
    "page",
    "element",
    "simple",
    "table_row",
    "text_element",
    "spaced",
    "spaced_within",
    "preformatted",
    "text",
    "tag",
    "attribute",
    "split_end_tag",
    "run",
    "line_run",
    "forced_run",
    "row_run",
    "bound_run",
    "part_run",
)
_LEAVES = (
    "declaration",
    "directive",
    "comment",
    "tag_name",
    "attribute_name",
    "value",
    "bare_value",
    "tag_end",
    "end_tag",
    "word",
    "line_word",
    "forced_word",
    "bound_word",
    "part_word",
    "script",
    "fixed_script",
    "style",
    "data",
    "raw",
    "as_is",
)
_SIGNS = ("=",)
_NAMES = (*_NODES, *_LEAVES, *_SIGNS)
KINDS = Kinds(_NAMES, tuple(name not in _SIGNS for name in _NAMES), (True,) * len(_NAMES), {})
_KIND = {name: number for number, name in enumerate(_NAMES)}

_DIRECTIVE = re.compile(rb"<!--\s*stilo:[^\n]*-->")
#: What a template has in its own signs.
_TEMPLATE = re.compile(rb"\{[%{#]|<[%?]|\$\{")
_SHOWN = re.compile(SHOWN_STYLE.encode(), re.IGNORECASE)
_SCRIPT_TYPES = re.compile(
    rb"(?:(?:text|application)/(?:x-)?(?:java|ecma)script|module|text/jscript|text/babel|text/jsx)?\Z",
    re.IGNORECASE
)
_DATA_TYPES = re.compile(rb"(?:\w+/(?:[\w.-]+\+)?json|importmap|speculationrules)\Z", re.IGNORECASE)
_FIXED = re.compile(FIXED_CODE.encode())

_Task = Iterator[Any]


class _Part(NamedTuple):
    """A part of what an element holds, as numbers of pieces: something that has lines of its own, or text."""

    is_item: bool
    begin: int
    end: int


class PageReader:
    """Reads pages. Thread-safe.

    words: elements, and classes with a dot before them, each with how it is read: as one whose white space is
    `shown`, or that stands in a line (`inline`). `.berths>li` is such an element within another.
    """

    name = "the reader of HTML"
    kinds = KINDS
    readings = ("shown", "inline")

    def __init__(self, words: Mapping[str, str] = MappingProxyType({})) -> None:
        self._words = words

    def with_words(self, known: Mapping[bytes, str]) -> PageReader:
        """The same reader, which knows these words."""
        return PageReader({word.decode().lower(): reading for word, reading in known.items()})

    def read(self, data: bytes, wanted: Wanted) -> BuiltParsed:
        """Read a text."""
        tree = TreeBuilder(data)
        error = None
        try:
            pieces = scan(data)
            if pieces:
                _drive(_Page(data, pieces, tree, self._words).document())
        except ScanError as fault:
            error = (fault.offset, fault.message)
        return BuiltParsed(
            data, tree.tree(), lambda other: self.read(other, wanted), wanted.comments, error
        )


def _drive(task: _Task) -> None:
    """Run a task and those that it yields, on a stack of our own."""
    stack = [task]
    while stack:
        inner = next(stack[-1], None)
        if inner is None:
            stack.pop()
        else:
            stack.append(inner)


class _Run(NamedTuple):
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


class _Page:
    """Builds the tree of a page. Numbers are those of its pieces."""

    def __init__(
        self, data: bytes, pieces: Sequence[Piece], tree: TreeBuilder, words: Mapping[str, str]
    ) -> None:
        self._data = data
        self._pieces = pieces
        self._tree = tree
        self._matched = match(pieces, words)
        self._joined: dict[int, bool] = {}  # what `_begins_item` answered
        #: Of each piece, whether it is a tag of an element whose white space is shown.
        self._shows_blanks = [
            p.what == "tag" and (reading == "shown" or _shows_blanks(p))
            for p, reading in zip(pieces, self._matched.reading)
        ]

    def document(self) -> _Task:
        """The whole page."""
        self._open("document")
        yield self._parts(0, len(self._pieces), False)
        self._tree.close()

    # What an element holds

    def _split(self, begin: int, end: int, is_foreign: bool) -> list[_Part]:
        """The parts of what stands between two pieces."""
        parts: list[_Part] = []
        at = begin
        while at < end:
            is_first = at == begin or bool(parts) and parts[-1].is_item
            stop = self._item_end(at, end, is_first, is_foreign)
            if stop:
                parts.append(_Part(True, at, stop))
            else:
                stop = self._unit_end(at)
                if parts and not parts[-1].is_item:
                    parts[-1] = parts[-1]._replace(end=stop)
                else:
                    parts.append(_Part(False, at, stop))
            at = stop
        return parts

    def _past(self, at: int) -> int:
        """The piece behind an element."""
        return self._matched.close[at] + self._matched.has_end[at]

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
            return at + 1 if piece.name in BLOCKS and not self._matched.is_end[at] else 0
        if piece.what != "tag":
            return 0
        past = self._past(at)
        if is_foreign or self._matched.is_block[at]:
            return past
        if piece.name in UNSHOWN:
            is_apart = is_first or self._has_gap(at) or self._begins_item(at, end, is_foreign)
            return past if is_apart else 0
        if piece.name not in BOXES and self._matched.has_block[at]:
            return past if self._may_have_lines(at, past, end, is_first) else 0
        return 0

    def _stands_alone(self, at: int, end: int, is_first: bool, is_foreign: bool) -> bool:
        """Whether a comment has lines to itself, or nothing but elements that have beside it."""
        is_last = at + 1 >= end
        before = self._has_line(at) or is_first
        after = is_last or self._has_line(at + 1) or self._begins_item(at + 1, end, is_foreign)
        is_directive = self._is_directive(at) and self._has_line(at)
        return (
            is_directive
            or before and after and not (is_first and is_last and not self._has_line(at))
        )

    def _is_directive(self, at: int) -> bool:
        piece = self._pieces[at]
        return _DIRECTIVE.fullmatch(self._data, piece.start, piece.end) is not None

    def _ends_line(self, at: int) -> bool:
        """Whether a line ends before a piece wherever it stands."""
        piece = self._pieces[at]
        is_stray = piece.what == "end_tag" and piece.name in BLOCKS and not self._matched.is_end[at]
        return is_stray or self._matched.is_block[at]

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
            elif self._matched.has_block[at] and self._pieces[at].name not in BOXES:
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
        last = self._matched.close[at] - 1
        is_end = self._pieces[last].what == "end_tag" and self._pieces[last].name in BLOCKS
        return is_end or self._matched.is_block[last]

    def _unit_end(self, at: int) -> int:
        """Where that ends which a text takes as a whole from a piece on."""
        piece = self._pieces[at]
        if piece.what != "tag" or piece.is_empty:
            return at + 1
        is_whole = (
            piece.name in BOXES
            or piece.name in UNSHOWN
            or piece.name in RAW
            or self._matched.has_block[at]
            or self._shows_blanks[at]
            or self._is_spaced(at)
        )
        return self._past(at) if is_whole else at + 1

    def _is_spaced(self, at: int) -> bool:
        """Whether white space stands at the inner edges of an element, or means nothing there."""
        close = self._matched.close[at]
        is_ended = self._matched.has_end[at] and close > at + 1 and self._has_gap(close)
        return is_ended and (self._has_gap(at + 1) or self._follows_gap(at))

    def _follows_gap(self, at: int) -> bool:
        """Whether white space right behind a tag shows nothing, since there is some before it, or a line begins."""
        return at == 0 or self._has_gap(at) or self._matched.is_block[at - 1]

    def _has_gap(self, at: int) -> bool:
        """Whether white space stands before a piece, or may: what ends a line stands there."""
        if at and self._is_break(at - 1):
            return True
        start = self._pieces[at - 1].end if at else 0
        end = self._pieces[at].start if at < len(self._pieces) else len(self._data)
        return start < end

    def _has_blank_line(self, at: int) -> bool:
        """Whether a blank line stands before a piece, which is not the first."""
        return self._data.count(b"\n", self._pieces[at - 1].end, self._pieces[at].start) > 1

    def _has_line(self, at: int) -> bool:
        """Whether a line end stands before a piece."""
        start = self._pieces[at - 1].end if at else 0
        end = self._pieces[at].start if at < len(self._pieces) else len(self._data)
        return at == 0 or b"\n" in self._data[start:end]

    # Nodes

    def _parts(self, begin: int, end: int, is_foreign: bool) -> _Task:
        for part in self._split(begin, end, is_foreign):
            if part.is_item:
                yield self._item(part.begin, part.end, is_foreign)
            else:
                yield self._text(part.begin, part.end)

    def _item(self, at: int, past: int, is_foreign: bool) -> _Task:
        piece = self._pieces[at]
        if piece.what == "end_tag":
            self._end_tag(at)
        elif piece.what != "tag":
            is_directive = piece.what == "comment" and self._is_directive(at)
            self._leaf("directive" if is_directive else piece.what, piece.start, piece.end)
        elif piece.is_empty:
            self._tag(at)
        else:
            yield self._element(at, past, is_foreign)

    def _element(self, at: int, past: int, is_foreign: bool) -> _Task:
        """An element with its tags. is_foreign: white space between its children means nothing."""
        piece, close = self._pieces[at], self._matched.close[at]
        has_end = self._matched.has_end[at]
        stop = self._pieces[close].start if has_end else self._pieces[close - 1].end
        raw = self._raw_kind(at)
        is_text = is_foreign and piece.name in (b"text", b"foreignobject", b"title", b"desc")
        if raw or is_text or self._shows_blanks[at]:
            text = self._data[piece.end:stop]
            if raw and raw != "raw" and text.strip():
                self._open("text_element")
                self._tag(at)
                start = piece.end + len(text) - len(text.lstrip(BLANKS))
                self._leaf(raw, start, start + len(text.strip(BLANKS)))
            else:
                self._open("preformatted")
                self._tag(at)
                if text and not (raw and raw != "raw"):
                    self._leaf("raw", piece.end, stop)
        else:
            is_foreign = is_foreign or piece.name in BOXES_OF_ITEMS
            parts = self._split(at + 1, close, is_foreign)
            self._open(self._kind_of(piece.name, parts))
            self._tag(at)
            for part in parts:
                if part.is_item:
                    yield self._item(part.begin, part.end, is_foreign)
                else:
                    yield self._text(part.begin, part.end)
        if has_end:
            self._end_tag(close)
        self._tree.close()

    @staticmethod
    def _kind_of(name: bytes, parts: Sequence[_Part]) -> str:
        if name == b"html":
            return "page"
        if name == b"tr":
            return "table_row"
        return "element" if any(part.is_item for part in parts) else "simple"

    def _raw_kind(self, at: int) -> str:
        """The kind of the text of an element that holds no tags; "" if it may."""
        piece = self._pieces[at]
        if piece.name not in RAW or piece.name == b"title":
            return ""
        if piece.name not in (b"script", b"style"):
            return "raw"
        said = b"".join(a.value for a in piece.attributes if a.name == b"type").strip()
        if piece.name == b"style":
            return "style" if said.lower() in (b"", b"text/css") else "raw"
        if _SCRIPT_TYPES.match(said):
            raw = self._pieces[at + 1] if at + 1 < len(self._pieces) else piece
            text = self._data[raw.start:raw.end] if raw.what == "raw" else b""
            return "fixed_script" if _FIXED.search(text) else "script"
        return "data" if _DATA_TYPES.match(said) else "raw"

    def _tag(self, at: int) -> None:
        piece = self._pieces[at]
        name_end, last = piece.inner
        self._open("tag")
        self._leaf("tag_name", piece.start, name_end)
        for attribute in piece.attributes:
            self._attribute(attribute)
        self._leaf("tag_end", last, piece.end)
        self._tree.close()

    def _attribute(self, attribute: Attribute) -> None:
        start, name_end, value_start, end = attribute[2:]
        if name_end == end:
            self._leaf("attribute_name", start, end)
            return
        self._open("attribute")
        self._leaf("attribute_name", start, name_end)
        sign = self._data.index(b"=", name_end)
        self._leaf("=", sign, sign + 1)
        if value_start < end:
            is_quoted = self._data[value_start : value_start + 1] in (b'"', b"'")
            self._leaf("value" if is_quoted else "bare_value", value_start, end)
        self._tree.close()

    def _end_tag(self, at: int) -> None:
        """An end tag: one token, unless white space stands in it."""
        piece = self._pieces[at]
        name_end, last = piece.inner
        if name_end < last and not piece.attributes:
            self._open("split_end_tag")
            self._leaf("tag_name", piece.start, name_end)
            self._leaf("tag_end", last, piece.end)
            self._tree.close()
        else:
            self._leaf("end_tag", piece.start, piece.end)

    def _text(self, begin: int, end: int) -> _Task:
        """Words and tags that flow."""
        self._open("text")
        runs = list(self._runs(begin, end))
        is_rows = not any(run.is_prose for run in runs)
        is_forced = False
        for run in runs:
            at, stop, depth = run.begin, run.end, run.depth
            has_line = at > begin and self._has_line(at)
            has_items = self._has_items(at, stop)
            is_forced = is_forced or has_items or self._is_own_line(at, stop)
            is_tied = at > begin and self._is_tied(at)
            kind = (
                "" if at == begin
                else "forced_" if is_forced or is_tied and has_line
                else "bound_" if is_tied
                else "part_" if has_line and not depth and self._has_blank_line(at)
                else "row_" if has_line and is_rows and not depth
                else "line_" if has_line
                else ""
            )
            if stop == at + 1 and self._pieces[at].what == "word":
                self._leaf(f"{kind}word", self._pieces[at].start, self._pieces[at].end)
            else:
                self._open(f"{kind}run")
                yield self._run(at, stop)
                self._tree.close()
            is_forced = self._is_break(stop - 1) or has_items or self._is_own_line(at, stop)
        self._tree.close()

    def _runs(self, begin: int, end: int) -> Iterator[_Run]:
        """The runs of a text."""
        at = begin
        depth = 0
        while at < end:
            first, around, is_prose = at, depth, False
            while at < end and (at == first or not self._has_gap(at)):
                piece, stop = self._pieces[at], self._unit_end(at)
                is_word = piece.what == "word" and not _TEMPLATE.match(self._data, piece.start)
                is_prose = is_prose or is_word and not depth
                if piece.what == "tag" and stop == at + 1 and not piece.is_empty:
                    depth += self._matched.has_end[at]
                elif self._matched.is_end[at]:
                    depth -= 1
                at = stop
            yield _Run(first, at, around, is_prose)

    def _is_tied(self, at: int) -> bool:
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

    def _is_break(self, at: int) -> bool:
        """Whether a piece ends a line, so that white space behind it shows nothing."""
        return self._pieces[at].what == "tag" and self._pieces[at].name == b"br"

    def _has_items(self, at: int, stop: int) -> bool:
        """Whether a run is an element that holds items, one a line."""
        name = self._pieces[at].name
        is_whole = self._pieces[at].what == "tag" and self._unit_end(at) == stop > at + 2
        return is_whole and name in BOXES_OF_ITEMS

    def _is_own_line(self, at: int, stop: int) -> bool:
        """Whether a run is a template's own, on a line of its own."""
        if not _TEMPLATE.match(self._data, self._pieces[at].start):
            return False
        is_last = stop == len(self._pieces) or self._pieces[stop].what != "word"
        return stop == at + 1 and self._has_line(at) and (is_last or self._has_line(stop))

    def _run(self, begin: int, end: int) -> _Task:
        """Words and tags without white space between them."""
        at = begin
        while at < end:
            piece, stop = self._pieces[at], self._unit_end(at)
            if piece.what == "end_tag":
                self._end_tag(at)
            elif piece.what != "tag":
                self._leaf(piece.what, piece.start, piece.end)
            elif stop == at + 1:
                self._tag(at)
            elif piece.name in BOXES or piece.name in RAW or self._shows_blanks[at]:
                yield self._element(at, stop, False)
            elif self._matched.has_block[at] or not self._is_spaced(at):
                self._leaf("as_is", piece.start, self._pieces[stop - 1].end)
            else:
                self._open("spaced" if self._follows_gap(at) else "spaced_within")
                self._tag(at)
                yield self._text(at + 1, stop - 1)
                self._end_tag(stop - 1)
                self._tree.close()
            at = stop

    def _open(self, name: str) -> None:
        self._tree.open(_KIND[name])

    def _leaf(self, name: str, start: int, end: int) -> None:
        self._tree.leaf(_KIND[name], start, end)
