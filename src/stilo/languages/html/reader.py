"""Reads pages: elements one below the other, and in each either these or words and tags that flow as text.

White space is a token's own business nowhere, but whether there is any between two words or tags of a text is
kept: what stands together without any is one `run`. Where it is shown as it is (`pre` and its kin), all of it is
in one token.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping, Sequence
from types import MappingProxyType
from typing import Any

from stilo.languages.html.elements import BOXES_OF_ITEMS, FIXED_CODE, RAW
from stilo.languages.html.parts import TEMPLATE, Part, Parts
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
    "word_list",
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
    "quote",
    "list_word",
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

_SCRIPT_TYPES = re.compile(
    rb"(?:(?:text|application)/(?:x-)?(?:java|ecma)script|module|text/jscript|text/babel|text/jsx)?\Z",
    re.IGNORECASE
)
_DATA_TYPES = re.compile(rb"(?:\w+/(?:[\w.-]+\+)?json|importmap|speculationrules)\Z", re.IGNORECASE)
_FIXED = re.compile(FIXED_CODE.encode())
_NO_LIST = re.compile(TEMPLATE.pattern + rb"|[\"']")
_WORD = re.compile(rb"[^ \t\n\f\r]+")
#: The setting by which classes are words, not one value.
CLASS_LISTS = "class-lists"

_Task = Iterator[Any]


def _is_list(value: bytes) -> bool:
    """Whether a value in quotes is several words, none of which is a template's or has quotes."""
    words = value[1:-1]
    return value[:1] in (b'"', b"'") and len(words.split()) > 1 and not _NO_LIST.search(words)


class PageReader:
    """Reads pages. Thread-safe.

    words: elements, and classes with a dot before them, each with how it is read: all white space in it is `shown`; it
    stands in a line (`inline`); or it does, but has lines of its own inside (`box`). `.berths>li` is such an element
    within another. has_lists: the classes of an element are words of a list.
    """

    name = "the reader of HTML"
    kinds = KINDS
    readings = ("shown", "inline", "box")
    asked = (CLASS_LISTS,)

    def __init__(
        self, words: Mapping[str, str] = MappingProxyType({}), has_lists: bool = False
    ) -> None:
        self._words = words
        self._has_lists = has_lists

    def with_words(self, known: Mapping[bytes, str]) -> PageReader:
        """The same reader, which knows these words."""
        words = {word.decode().lower(): reading for word, reading in known.items()}
        return PageReader(words, self._has_lists)

    def with_values(self, values: Mapping[str, str]) -> PageReader:
        """The same reader, with values of the settings that it asks."""
        return PageReader(self._words, values.get(CLASS_LISTS) == "flow")

    def read(self, data: bytes, wanted: Wanted) -> BuiltParsed:
        """Read a text."""
        tree = TreeBuilder(data)
        error = None
        try:
            pieces = scan(data)
            if pieces:
                _drive(_Page(data, pieces, tree, self._words, self._has_lists).document())
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


class _Page:
    """Builds the tree of a page. Numbers are those of its pieces."""

    def __init__(
        self,
        data: bytes,
        pieces: Sequence[Piece],
        tree: TreeBuilder,
        words: Mapping[str, str],
        has_lists: bool,
    ) -> None:
        self._data = data
        self._pieces = pieces
        self._tree = tree
        self._has_lists = has_lists
        self._parts = Parts(data, pieces, words)

    def document(self) -> _Task:
        """The whole page."""
        self._open("document")
        yield self._content(self._parts.split(0, len(self._pieces), False), False)
        self._tree.close()

    def _content(self, parts: Sequence[Part], is_foreign: bool) -> _Task:
        for part in parts:
            if part.is_item:
                yield self._item(part.begin, part.end, is_foreign)
            else:
                yield self._text(part.begin, part.end)

    def _item(self, at: int, past: int, is_foreign: bool) -> _Task:
        piece = self._pieces[at]
        if piece.what == "end_tag":
            self._end_tag(at)
        elif piece.what != "tag":
            is_directive = piece.what == "comment" and self._parts.is_directive(at)
            self._leaf("directive" if is_directive else piece.what, piece.start, piece.end)
        elif piece.is_empty:
            self._tag(at)
        else:
            yield self._element(at, past, is_foreign)

    def _element(self, at: int, past: int, is_foreign: bool) -> _Task:
        """An element with its tags. is_foreign: white space between its children means nothing."""
        piece, close = self._pieces[at], self._parts.matched.close[at]
        has_end = self._parts.matched.has_end[at]
        stop = self._pieces[close].start if has_end else self._pieces[close - 1].end
        raw = self._raw_kind(at)
        is_code = raw not in ("", "raw")
        is_text = is_foreign and piece.name in (b"text", b"foreignobject", b"title", b"desc")
        if raw or is_text or self._parts.shows_blanks[at]:
            text = self._data[piece.end:stop]
            if is_code and text.strip():
                self._open("text_element")
                self._tag(at)
                start = piece.end + len(text) - len(text.lstrip(BLANKS))
                self._leaf(raw, start, start + len(text.strip(BLANKS)))
            else:
                self._open("preformatted")
                self._tag(at)
                if text and not is_code:
                    self._leaf("raw", piece.end, stop)
        else:
            is_foreign = is_foreign or piece.name in BOXES_OF_ITEMS
            parts = self._parts.split(at + 1, close, is_foreign)
            self._open(self._kind_of(piece.name, parts))
            self._tag(at)
            yield self._content(parts, is_foreign)
        if has_end:
            self._end_tag(close)
        self._tree.close()

    @staticmethod
    def _kind_of(name: bytes, parts: Sequence[Part]) -> str:
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
        text = self._data[value_start:end]
        if self._has_lists and attribute.name == b"class" and _is_list(text):
            self._open("word_list")
            self._leaf("quote", value_start, value_start + 1)
            for word in _WORD.finditer(self._data, value_start + 1, end - 1):
                self._leaf("list_word", *word.span())
            self._leaf("quote", end - 1, end)
            self._tree.close()
        elif text:
            # One with a template in which the same quotes stand keeps them.
            is_quoted = text[:1] in (b'"', b"'") and text[:1] not in text[1:-1]
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
        runs = list(self._parts.runs(begin, end))
        is_rows = not any(run.is_prose for run in runs)
        is_forced = False
        for run in runs:
            at, stop, depth = run.begin, run.end, run.depth
            has_line = at > begin and self._parts.has_line(at)
            is_apart = self._parts.has_items(at, stop) or self._parts.is_own_line(at, stop, end)
            is_forced = is_forced or is_apart
            is_tied = at > begin and self._parts.is_tied(at)
            kind = (
                "" if at == begin
                else "forced_" if is_forced or is_tied and has_line
                else "bound_" if is_tied
                else "part_" if has_line and not depth and self._parts.has_blank_line(at)
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
            is_forced = is_apart or self._parts.is_break(stop - 1)
        self._tree.close()

    def _run(self, begin: int, end: int) -> _Task:
        """Words and tags without white space between them."""
        at = begin
        while at < end:
            piece, stop = self._pieces[at], self._parts.unit_end(at)
            if piece.what == "end_tag":
                self._end_tag(at)
            elif piece.what != "tag":
                self._leaf(piece.what, piece.start, piece.end)
            elif stop == at + 1:
                self._tag(at)
            elif self._parts.is_box(at) or piece.name in RAW or self._parts.shows_blanks[at]:
                yield self._element(at, stop, False)
            elif self._parts.matched.has_block[at] or not self._parts.is_spaced(at):
                self._leaf("as_is", piece.start, self._pieces[stop - 1].end)
            else:
                self._open("spaced" if self._parts.follows_gap(at) else "spaced_within")
                self._tag(at)
                yield self._text(at + 1, stop - 1)
                self._end_tag(stop - 1)
                self._tree.close()
            at = stop

    def _open(self, name: str) -> None:
        self._tree.open(_KIND[name])

    def _leaf(self, name: str, start: int, end: int) -> None:
        self._tree.leaf(_KIND[name], start, end)
