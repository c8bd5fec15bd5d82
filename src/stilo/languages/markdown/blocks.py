"""The blocks of a document, as markdown-it-py finds them: by the block structure of CommonMark, with tables."""

from __future__ import annotations

import re
from dataclasses import field
from functools import lru_cache
from typing import Any

from markdown_it import MarkdownIt
from markdown_it.token import Token

from stilo.records import dataclass

#: Blocks within blocks, at most; what is deeper is left as it is.
MOST_NESTING = 60
#: In a paragraph, at most: time grows with their square.
MOST_BRACKETS = 1000
_PARAGRAPH_END = re.compile(rb"\n[ \t>]*\n|\n(?=[ \t]*(?:[-+*|#>]|\d+[.)]))")
#: What stands before a document and is no part of it: lines between two of three hyphens, or plus signs.
FRONT_MATTER = re.compile(rb"(---|\+\+\+)[ \t]*\n(?=[^\n]*\w).*?\n\1[ \t]*(?=\n|\Z)", re.DOTALL)


@lru_cache(maxsize=2)
def _parser(has_inline: bool) -> MarkdownIt:
    """The parser of CommonMark, with tables and deleted text."""
    made = MarkdownIt("commonmark", {"maxNesting": MOST_NESTING})
    made.enable(["table", "strikethrough"])
    return made if has_inline else made.disable("inline")


def parsed(data: bytes, has_inline: bool = True) -> tuple[list[Token], dict[str, tuple[str, str]]]:
    """The tokens of a document, and the places and titles that its links may refer to by name.

    data: UTF-8, with `\n` as line end. Front matter counts as blank lines. has_inline: what is in paragraphs
    is parsed, too. Raises SyntaxError for a document that would take too long.
    """
    if has_inline:
        for text in _PARAGRAPH_END.split(data):
            if text.count(b"[") > MOST_BRACKETS:
                what = f"a paragraph has more than {MOST_BRACKETS} opening brackets"
                raise SyntaxError(what)
    known: dict[str, Any] = {}
    front = FRONT_MATTER.match(data)
    if front is not None:
        data = b"\n" * data.count(b"\n", 0, front.end()) + data[front.end():]
    tokens = _parser(has_inline).parse(data.decode(), known)
    places = {
        name: (said["href"], said["title"]) for name, said in known.get("references", {}).items()
    }
    return tokens, places


@dataclass(frozen=True)
class Block:
    """A block: its type by markdown-it-py, its first line and the one after its last (from 0), the signs that mark
    it, whether it is a paragraph of a tight list, and the blocks in it."""

    type: str
    begin: int
    end: int
    markup: str
    is_tight: bool
    children: list[Block] = field(default_factory=list)


def blocks_of(data: bytes) -> list[Block]:
    """The blocks of a document, each with those in it."""
    found: list[Block] = []
    around = [found]
    for token in parsed(data, has_inline=False)[0]:
        if token.nesting < 0:
            around.pop()
            continue
        begin, end = token.map or (-1, -1)
        name = token.type.removesuffix("_open")
        block = Block(name, begin, end, token.markup, token.hidden)
        around[-1].append(block)
        if token.nesting > 0:
            around.append(block.children)
    return found
