"""Whether two documents say the same, by what markdown-it-py reads in them."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Any

from markdown_it.token import Token

from stilo.languages.markdown.blocks import parsed
from stilo.source import BOM

_LINE_END = re.compile(r"[ \t]*\n[ \t]*")
#: HTML within which the margins of lines mean something.
_PREFORMATTED = re.compile(r"<(?:pre|textarea|script|style)\b|white-space", re.IGNORECASE)
_BLANKS = re.compile(r"\s+")
#: What stands beside text in a paragraph: white space there counts.
_OTHER = frozenset(("code_inline", "html_inline", "image", "hardbreak"))


def check(before: bytes, after: bytes, moved: bool) -> int:
    """Compare two documents: 0, or the line of the second from which it says something else.

    Line ends within paragraphs and white space that runs on are spaces; code, tags and link destinations are
    compared as they are, but for the margin of all their lines. moved: of no concern here.
    """
    (old, said), (new, says) = (
        parsed(text.removeprefix(BOM).replace(b"\r\n", b"\n")) for text in (before, after)
    )
    if said != says:
        return 1
    last = after.count(b"\n") or 1
    others = _parts(new)
    for part, _ in _parts(old):
        other, line = next(others, (None, last))
        if part != other:
            return line
    return 0 if next(others, None) is None else last


def parts_of(data: bytes) -> Iterator[tuple[Any, int]]:
    """What a piece of a document says, part by part, each with its line from 1."""
    return _parts(parsed(data)[0])


def _parts(tokens: list[Token]) -> Iterator[tuple[Any, int]]:
    """What a document says, part by part, each with its line from 1."""
    line = 1
    for token in tokens:
        if token.map is not None:
            line = token.map[0] + 1
        attrs = sorted(token.attrs.items())
        content = token.content.rstrip()
        if token.type == "html_block" and not _PREFORMATTED.search(content):
            content = _LINE_END.sub("\n", content.strip())
        if token.children is None:
            # Of the numbers of items only that of the first is said, and the list has it.
            info = "" if token.type == "list_item_open" else token.info.strip()
            yield (token.type, token.tag, attrs, token.hidden, info, content), line
        else:
            yield list(_inline(token.children)), line


def _inline(tokens: list[Token]) -> Iterator[Any]:
    """What a paragraph says: its text in pieces as long as can be, and all else."""
    text = ""
    for token in tokens:
        if token.type == "text":
            text += token.content
        elif token.type == "softbreak":
            text += " "
        else:
            if token.type in _OTHER or text:
                yield _BLANKS.sub(" ", text)
            text = ""
            content = _said(token)
            yield (
                token.type,
                token.tag,
                sorted(token.attrs.items()),
                content,
                list(_inline(token.children or [])),
            )
    yield _BLANKS.sub(" ", text)


def _said(token: Token) -> str:
    """What a piece of a paragraph says that is no text."""
    if token.type == "html_inline":
        return _LINE_END.sub("\n", token.content)
    # The parser leaves the margins of lines in, which are none of the text; within a line all blanks stay.
    return _BLANKS.sub(" ", token.content).strip()
