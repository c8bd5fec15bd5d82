"""Reads Markdown: blocks as CommonMark has them, with the words of their prose.

What is not prose (code, quotes, HTML, link definitions) is one token each; what is in it is laid out, if at all,
as a text of its own.
"""

from __future__ import annotations

import re
from collections.abc import Sequence

from stilo.languages.markdown.blocks import FRONT_MATTER, Block, blocks_of
from stilo.languages.markdown.words import TAB, words_of
from stilo.readers.built import BuiltParsed
from stilo.readers.reader import Wanted
from stilo.tree.build import TreeBuilder
from stilo.tree.kinds import Kinds

_NODES = (
    "document",
    "heading",
    "underlined",
    "paragraph",
    "tight_list",
    "loose_list",
    "item",
    "table",
    "padded_table",
    "row",
)
_LEAVES = (
    "front_matter",
    "heading_mark",
    "underline",
    "word",
    "line_start",
    "sentence_start",
    "sentence_line",
    "forced",
    "bound",
    "bullet",
    "number",
    "fence",
    "code",
    "html",
    "quote",
    "rule",
    "definition",
    "lists",
    "lines",
    "cell",
    "right_cell",
    "centered_cell",
    "delimiter",
    "directive",
)
_SIGNS = ("|",)
_NAMES = (*_NODES, *_LEAVES, *_SIGNS)
KINDS = Kinds(_NAMES, tuple(name not in _SIGNS for name in _NAMES), (True,) * len(_NAMES), {})
_KIND = {name: number for number, name in enumerate(_NAMES)}

_MARK = re.compile(rb"[-+*]|\d{1,9}[.)]")
_HEADING = re.compile(rb"(#{1,6})(?:[ \t]+(.*?))??(?:[ \t]+(#+))?[ \t]*\Z")
#: A comment to Stilo, on a line of its own.
_DIRECTIVE = re.compile(rb"[ \t]*<!--\s*stilo:[^\n]*-->[ \t]*")
#: How a paragraph begins that would be a link definition, or a fence, with less on its first line.
_DEFINITION = re.compile(rb"\[[^\]]*\]:|```")
#: What is a horizontal rule, or HTML, if it has the first line to itself.
_NEVER_ALONE = re.compile(rb"(?:<[^<>]*>|[-*_ ]{3,})\Z")
#: A tab in the marks of a line, whose columns depend on where these stand.
_TAB_IN_MARKS = re.compile(rb"(?m)^[ \t>]*>[ ]?\t")
_BAR = re.compile(rb"(?<!\\)\|")
_PADDED = re.compile(rb"[^ \t\n|][ \t]{2,}\||\|[ \t]{2,}[^ \t\n|]")
#: The blocks that are lists.
_LISTS = ("bullet_list", "ordered_list")
#: The tokens that stand for a whole block.
_OPAQUE = {
    "fence": "fence",
    "code_block": "code",
    "html_block": "html",
    "blockquote": "quote",
    "hr": "rule",
}


class DocumentReader:
    """Reads documents. Thread-safe."""

    name = "the reader of Markdown"
    kinds = KINDS

    def read(self, data: bytes, wanted: Wanted) -> BuiltParsed:
        """Read a text."""
        tree = TreeBuilder(data)
        error = None
        stray = data.find(b"\r")
        if stray >= 0:
            error = (stray, "a carriage return stands alone")
        elif data.strip():
            _Structure(data, tree).document()
        return BuiltParsed(
            data, tree.tree(), lambda other: self.read(other, wanted), wanted.comments, error
        )


def _is_same_list(block: Block, following: Block) -> bool:
    """Whether two lists that follow each other would be one with less between them."""
    is_list = block.type in _LISTS
    return is_list and (block.type, block.markup) == (following.type, following.markup)


def _begins_as_it_is(item: Block) -> bool:
    """Whether what an item begins with goes by its own indent."""
    if not item.children:
        return False
    child = item.children[0]
    is_below = child.begin > item.begin
    return child.type == "code_block" or child.type == "html_block" and is_below


class _Structure:
    """Builds the tree of a document."""

    def __init__(self, data: bytes, tree: TreeBuilder) -> None:
        self._data = data
        self._tree = tree
        self._starts = [0, *(found.end() for found in re.finditer(b"\n", data))]
        if self._starts[-1] == len(data):
            self._starts.pop()

    def document(self) -> None:
        """The whole document."""
        self._open("document")
        line, front = 0, FRONT_MATTER.match(self._data)
        if front is not None:
            self._leaf("front_matter", 0, front.end())
            line = self._data.count(b"\n", 0, front.end()) + 1
        self._blocks(blocks_of(self._data), line, len(self._starts), -1, 0)
        self._tree.close()

    def _blocks(self, blocks: Sequence[Block], begin: int, end: int, at: int, column: int) -> None:
        """The blocks in some lines. at: where the first of them begins in its line. column: of all others."""
        line = begin
        for block, following in zip(blocks, [*blocks[1:], None]):
            first, after = block.begin, block.end
            if first < line:
                continue  # it is one token with the one before
            self._definitions(line, first, begin, at)
            start = at if first == begin and at >= 0 else self._starts[first]
            stays = False
            if following is not None and _is_same_list(block, following):
                after, stays = following.end, True
            elif following is not None:
                stays = self._would_be_in(block, following, column)
            if stays:
                self._leaf(
                    "lists",
                    self._at_column(start, column),
                    self._line_end(self._last(first, after))
                )
            else:
                self._block(block, first, self._last(first, after), start, column)
            line = max(line, after)
        self._definitions(line, end, begin, at)

    def _would_be_in(self, block: Block, following: Block, column: int) -> bool:
        """Whether HTML that follows a list might come into its last item, if the text of that stood less far in.

        HTML keeps its indent. column: at which the list and the HTML begin, but for their indents.
        """
        text = self._past_blanks(self._starts[following.begin])
        is_html = following.type == "html_block" and self._column(text) > column
        return is_html and block.type in _LISTS

    def _block(self, block: Block, first: int, last: int, start: int, column: int) -> None:
        """A block. last: its last line that is not blank. start: where what it stands in begins in its first."""
        kind = block.type
        if kind == "paragraph":
            self._open("paragraph")
            text = self._past_blanks(start)
            is_bound = _DEFINITION.match(self._data, text) is not None
            self._words(text, self._end(last), column, is_bound)
            self._tree.close()
        elif kind == "heading":
            self._heading(self._past_blanks(start), last, block.markup, column)
        elif kind in _LISTS:
            self._list(block, first, last, start, column)
        elif kind == "table":
            self._table(first, last, start)
        else:
            has_tab = _TAB_IN_MARKS.search(self._data[start:self._line_end(last)]) is not None
            is_exact = kind in ("code_block", "html_block") or has_tab
            begin = self._at_column(start, column) if is_exact else self._past_blanks(start)
            if kind == "html_block" and self._column(begin) < column:
                begin = self._past_blanks(start)  # a tab runs over the column
            end = self._end(last) if kind == "hr" else self._line_end(last)
            is_last = block.end == len(self._starts)
            is_open = kind == "fence" and is_last and (last == first or self._is_open(block, last))
            if is_open and last + 1 < len(self._starts):
                # Blank lines at the end are part of it, and so are their ends.
                end = len(self._data)
            is_directive = kind == "html_block" and _DIRECTIVE.fullmatch(self._data, begin, end)
            self._leaf("directive" if is_directive else _OPAQUE[kind], begin, end)

    def _is_open(self, block: Block, last: int) -> bool:
        """Whether code in a fence is not closed. last: its last line that is not blank."""
        line = self._data[self._starts[last]:self._end(last)].strip().decode()
        return not (line.startswith(block.markup) and not line.strip(block.markup[0]))

    def _definitions(self, line: int, end: int, begin: int, at: int) -> None:
        """Link definitions, which stand in lines of no block. Those that follow each other are one token."""
        while line < end:
            start = at if line == begin and at >= 0 else self._starts[line]
            start = self._past_blanks(start)
            if start >= self._line_end(line):
                line += 1
                continue
            while (
                line + 1 < end
                and self._past_blanks(self._starts[line + 1]) < self._line_end(line + 1)
            ):
                line += 1
            self._leaf("definition", start, self._line_end(line))
            line += 1

    def _words(self, start: int, end: int, column: int, is_bound: bool) -> None:
        for joins in (False, True):
            words = list(words_of(self._data, start, end, column, joins))
            if all(word.kind != "stuck" for word in words):
                break
        else:
            self._leaf("lines", start, end)
            return
        for number, word in enumerate(words):
            kind = word.kind
            before = self._data[start:words[number - 1].end] if number else b""
            if kind != "forced" and len(before) < 200 and _NEVER_ALONE.match(before):
                kind = "bound"
            if is_bound:
                kind = "forced" if kind in ("line_start", "sentence_line", "forced") else "bound"
            self._leaf(kind, word.start, word.end)

    def _heading(self, start: int, last: int, markup: str, column: int) -> None:
        if not markup.startswith("#"):
            self._open("underlined")
            self._words(start, self._end(last - 1), column, True)
            self._leaf("underline", self._past_blanks(self._starts[last]), self._end(last))
            self._tree.close()
            return
        self._open("heading")
        found = _HEADING.match(self._data[start:self._line_end(last)])
        assert found is not None  # it was found to be one
        self._leaf("heading_mark", start, start + len(found[1]))
        if found[2]:
            self._words(start + found.start(2), start + found.end(2), column, True)
        if found[3]:
            self._leaf("heading_mark", start + found.start(3), start + found.end(3))
        self._tree.close()

    def _list(self, block: Block, first: int, last: int, start: int, column: int) -> None:
        if any(_begins_as_it_is(item) for item in block.children):
            self._leaf("lists", self._at_column(start, column), self._line_end(last))
            return
        self._open("loose_list" if self._is_loose(block) else "tight_list")
        for item in block.children:
            begin, after = item.begin, item.end
            mark = self._past_blanks(start if begin == first else self._starts[begin])
            found = _MARK.match(self._data, mark)
            assert found is not None  # it was found to be one
            self._open("item")
            self._leaf("bullet" if found.end() - mark == 1 else "number", mark, found.end())
            content = self._past_blanks(found.end())
            if content >= self._line_end(begin):
                content = self._line_end(begin)
                column = self._column(found.end()) + 1
            else:
                column = self._column(content)
            self._blocks(item.children, begin, after, content, column)
            self._tree.close()
        self._tree.close()

    def _is_loose(self, block: Block) -> bool:
        """Whether blank lines stand between items of a list, or between what is in them."""
        parts = [part for item in block.children for part in item.children]
        paragraphs = [part for part in parts if part.type == "paragraph"]
        if paragraphs:
            return not all(part.is_tight for part in paragraphs)
        begins = sorted({part.begin for part in (*block.children, *parts)})
        return any(
            line and not self._data[self._starts[line - 1]:self._starts[line]].strip()
            for line in begins[1:]
        )

    def _table(self, first: int, last: int, start: int) -> None:
        text = self._data[self._starts[first]:self._end(last)]
        sides = self._sides(first + 1)
        self._open("padded_table" if _PADDED.search(text) else "table")
        for line in range(first, last + 1):
            begin = self._past_blanks(start if line == first else self._starts[line])
            end = self._end(line)
            bars = [found.start() for found in _BAR.finditer(self._data, begin, end)]
            self._open("row")
            number = -1 if bars[:1] == [begin] else 0  # nothing stands before the first bar
            for bar in [*bars, end]:
                kind = (
                    "delimiter" if line == first + 1
                    else sides[number] if 0 <= number < len(sides)
                    else "cell"
                )
                self._cell(kind, begin, bar)
                number += 1
                if bar < end:
                    self._leaf("|", bar, bar + 1)
                begin = bar + 1
            self._tree.close()
        self._tree.close()

    def _sides(self, line: int) -> list[str]:
        """The kinds of the cells of each column, by the line below the head of a table."""
        text = self._data[self._past_blanks(self._starts[line]):self._end(line)]
        signs = [part.strip() for part in text.removeprefix(b"|").split(b"|")]
        kinds = {(True, True): "centered_cell", (False, True): "right_cell"}
        return [kinds.get((s.startswith(b":"), s.endswith(b":")), "cell") for s in signs]

    def _cell(self, kind: str, start: int, end: int) -> None:
        text = self._data[start:end]
        if text.strip():
            start += len(text) - len(text.lstrip())
            self._leaf(kind, start, start + len(text.strip()))

    # Places

    def _open(self, name: str) -> None:
        self._tree.open(_KIND[name])

    def _leaf(self, name: str, start: int, end: int) -> None:
        self._tree.leaf(_KIND[name], start, end)

    def _line_end(self, line: int) -> int:
        """Where the text of a line ends, spaces included."""
        after = self._starts[line + 1] if line + 1 < len(self._starts) else len(self._data)
        return after - 1 if self._data[after - 1 : after] == b"\n" else after

    def _end(self, line: int) -> int:
        """Where the text of a line ends, spaces left out."""
        start, end = self._starts[line], self._line_end(line)
        return start + len(self._data[start:end].rstrip(b" \t"))

    def _last(self, first: int, after: int) -> int:
        """The last line before another that is not blank."""
        last = after - 1
        while last > first and self._end(last) == self._starts[last]:
            last -= 1
        return last

    def _past_blanks(self, start: int) -> int:
        while self._data[start : start + 1] in (b" ", b"\t"):
            start += 1
        return start

    def _column(self, offset: int) -> int:
        line = self._data[self._data.rfind(b"\n", 0, offset) + 1 : offset]
        return len(line.expandtabs(TAB))

    def _at_column(self, start: int, column: int) -> int:
        """The first place from another on that is at a column or, where a tab runs over it, before that."""
        while self._data[start : start + 1] in (b" ", b"\t") and self._column(start + 1) <= column:
            start += 1
        return start
