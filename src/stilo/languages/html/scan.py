"""The pieces of a page in the order of its text: tags, words, comments and texts without tags.

Tokens are those of the HTML standard ("Tokenization", 13.2.5). A grammar is of no use for them: the one there is
reads three of four real pages. What templates of servers have in their own signs belongs to the word around it.
"""

from __future__ import annotations

import re
from typing import NamedTuple

from stilo.languages.html.elements import FOREIGN, RAW, VOID

#: What separates words, and keeps apart what stands in a tag. A no-break space does not.
BLANKS = b" \t\n\f\r"
#: The signs of templates of servers, with what is in them.
_TEMPLATE = re.compile(
    rb"\$\{[^{}`]{0,2000}\}|\{\{.{0,5000}?\}\}|\{%.{0,5000}?%\}|\{#.{0,5000}?#\}|<%.{0,5000}?%>|<\?(?!xml\b).{0,20000}?\?>",
    re.DOTALL
)
_XHTML = re.compile(rb"\A\s*<\?xml|<!DOCTYPE[^>]*XHTML|<html[^>]*\sxmlns=", re.IGNORECASE)
_MARKUP = re.compile(rb"<(?=[A-Za-z/!?])")
_COMMENT_END = re.compile(rb"--!?>")
_NAME = re.compile(rb"[^\s/>]+")
_ATTRIBUTE = re.compile(
    rb"[ \t\n\f\r/]*(?P<all>(?P<name>=?[^ \t\n\f\r/>=]+)(?:[ \t\n\f\r]*=[ \t\n\f\r]*"
    rb"(?P<value>\"[^\"]*\"|'[^']*'|[^ \t\n\f\r>\"'][^ \t\n\f\r>]*)?)?)"
)
_TAG_END = re.compile(rb"[ \t\n\f\r]*(?P<end>/?>)")
_WORD = re.compile(rb"[^ \t\n\f\r]+")
_IN_SCRIPT = re.compile(rb"<!--|-->|<(/?)script(?=[ \t\n\f\r/>])", re.IGNORECASE)


class Attribute(NamedTuple):
    """An attribute: its name in small letters, its value without quotes, where it begins, where its name and its
    value end, and where the value begins; the same place as it ends, if there is none."""

    name: bytes
    value: bytes
    start: int
    name_end: int
    value_start: int
    end: int


class Piece(NamedTuple):
    """A piece: what it is, where it is, its name in small letters and its attributes, if it is a tag.

    `tag`, `end_tag`, `comment`, `declaration` (such as a doctype), `word`, `raw` (a text without tags).
    inner: of a tag, where its name ends and where its last sign begins. is_closed: it is a tag that ends its own
    element, as those of other languages within a page may.
    """

    what: str
    start: int
    end: int
    name: bytes = b""
    attributes: tuple[Attribute, ...] = ()
    inner: tuple[int, int] = (0, 0)
    is_closed: bool = False

    @property
    def is_empty(self) -> bool:
        """Whether it is a tag of an element without content."""
        return self.what == "tag" and (self.is_closed or self.name in VOID)


class ScanError(Exception):
    """A page that cannot be taken apart: where, and why."""

    def __init__(self, offset: int, message: str) -> None:
        super().__init__(message)
        self.offset = offset
        self.message = message


def without_templates(data: bytes) -> bytes:
    """A text of the same length in which what templates have in their own signs is one word."""
    return _TEMPLATE.sub(lambda found: b"x" * len(found[0]), data)


def is_xhtml(data: bytes) -> bool:
    """Whether a page says that it is XHTML, in which any tag may end its own element."""
    return _XHTML.search(data, 0, 2000) is not None


def scan(data: bytes) -> list[Piece]:
    """All pieces of a page. Raises ScanError."""
    text = without_templates(data)
    pieces: list[Piece] = []
    may_close = is_xhtml(data)
    at, depth = 0, 0  # within so many elements of another language
    while at < len(text):
        found = _MARKUP.search(text, at)
        stop = len(text) if found is None else found.start()
        pieces += [Piece("word", w.start(), w.end()) for w in _WORD.finditer(text, at, stop)]
        if found is None:
            break
        piece = _markup(data, text, stop, depth > 0)
        at = piece.end
        if piece.what == "end_tag" and piece.name in FOREIGN:
            depth = max(0, depth - 1)
        is_foreign = may_close or depth > 0 or piece.name in FOREIGN
        if piece.what == "tag" and is_foreign and text[at - 2 : at] == b"/>":
            piece = piece._replace(is_closed=True)
        pieces.append(piece)
        if piece.what != "tag" or piece.is_closed or piece.name in VOID:
            continue
        if piece.name in FOREIGN:
            depth += 1
        elif piece.name == b"plaintext":
            pieces.append(Piece("raw", at, len(text)))
            at = len(text)
        elif piece.name in RAW and not depth:
            at = _raw_end(text, piece)
            if piece.name == b"title":
                pieces += [
                    Piece("word", w.start(), w.end()) for w in _WORD.finditer(text, piece.end, at)
                ]
            elif at > piece.end:
                pieces.append(Piece("raw", piece.end, at))
    return pieces


def _markup(data: bytes, text: bytes, at: int, is_foreign: bool) -> Piece:
    """What begins with a `<` that is no text. text: the page without its templates."""
    if text.startswith(b"<!--", at):
        if text.startswith((b"<!-->", b"<!--->"), at):
            return Piece("comment", at, text.index(b">", at) + 1)
        found = _COMMENT_END.search(text, at + 4)
        if found is None:
            raise ScanError(at, "the comment is not closed")
        return Piece("comment", at, found.end())
    if is_foreign and text.startswith(b"<![CDATA[", at):
        end = text.find(b"]]>", at)
        if end < 0:
            raise ScanError(at, "the CDATA section is not closed")
        return Piece("word", at, end + 3)
    is_end = text.startswith(b"</", at)
    begin = at + 1 + is_end
    if not text[begin : begin + 1].isalpha():
        end = text.find(b">", at)
        if end < 0:
            raise ScanError(at, "the tag is not closed")
        return Piece("declaration" if text[begin : begin + 1] in b"!?" else "comment", at, end + 1)
    name = _NAME.match(text, begin)
    assert name is not None  # a letter stands there
    if data[begin:name.end()] != name[0]:
        raise ScanError(at, "a sign of a template stands in the name of this tag")
    place = name.end()
    attributes = []
    while (ended := _TAG_END.match(text, place)) is None:
        found = _ATTRIBUTE.match(text, place)
        if found is None or _is_quote_left_open(text, found):
            shown = name[0].decode("utf-8", "replace")[:40]
            raise ScanError(at, f"the tag <{shown}> is not closed")
        if b"/" in text[place:found.start("all")]:
            raise ScanError(place, "a slash stands before an attribute of this tag")
        place = found.end()
        value = (found["value"] or b"").strip(b"\"'")
        start, name_end = found.span("name")
        value_start = place if found["value"] is None else found.start("value")
        attributes.append(
            Attribute(found["name"].lower(), value, start, name_end, value_start, place)
        )
    what = "end_tag" if is_end else "tag"
    inner = (name.end(), ended.start("end"))
    return Piece(what, at, ended.end(), name[0].lower(), tuple(attributes), inner)


def _is_quote_left_open(text: bytes, attribute: re.Match[bytes]) -> bool:
    """Whether a value begins with a quote that does not come again."""
    end = attribute.end()
    has_sign = attribute["value"] is None and end > attribute.end("name")
    return has_sign and text[end : end + 1] in (b'"', b"'")


def _raw_end(text: bytes, tag: Piece) -> int:
    """Where the text of an element without tags ends. tag: the one that begins it."""
    at, name = tag.end, tag.name
    closing = re.compile(rb"</" + re.escape(name) + rb"(?=[ \t\n\f\r/>])", re.IGNORECASE)
    found = closing.search(text, at)
    if found is None:
        raise ScanError(tag.start, f"<{name.decode()}> is not closed")
    if name != b"script" or b"<!--" not in text[at:found.start()]:
        return found.start()
    return _script_end(text, tag)


def _script_end(text: bytes, tag: Piece) -> int:
    """Where a script ends that has a comment sign of HTML in it ("script data escaped", 13.2.5.20 on)."""
    is_escaped = is_double = False
    for found in _IN_SCRIPT.finditer(text, tag.end):
        sign = found[0]
        if sign == b"<!--":
            is_escaped = True
        elif sign == b"-->":
            is_escaped = is_double = False
        elif not found[1]:
            is_double = is_double or is_escaped
        elif is_double:
            is_double = False
        else:
            return found.start()
    raise ScanError(tag.start, "<script> is not closed")
