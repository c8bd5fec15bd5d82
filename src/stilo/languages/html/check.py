"""Whether two pages show the same, by the tree that a browser's rules make of them (read by Lexbor)."""

from __future__ import annotations

import re
from typing import Any

from selectolax.lexbor import LexborHTMLParser, LexborNode

from stilo.edits import Edit, apply_edits
from stilo.languages.html.elements import (
    BLOCKS, BOXES, BOXES_OF_ITEMS, FIXED_CODE, FOREIGN, MAY_STAY_OPEN, PREFORMATTED, REPLACED,
    SHOWN_STYLE, TABLE_PARTS, VOID
)
from stilo.languages.html.match import match
from stilo.languages.html.scan import ScanError, is_xhtml, scan
from stilo.source import BOM

_BLANKS = re.compile(r"[ \t\n\f\r]+")
#: Line ends that are no spaces: next to a zero-width space, and between two wide characters.
_UNSHOWN_END = re.compile(
    "(?<=\u200b)[ \\t]*\\n\\s*|[ \\t]*\\n\\s*(?=\u200b)"
    "|(?<=[\u2e80-\ua4cf\uf900-\ufaff\uff00-\uff60])[ \\t]*\\n\\s*(?=[\u2e80-\ua4cf\uf900-\ufaff\uff00-\uff60])"
)
_LINE_END = re.compile(r"[ \t]*\n[ \t]*")
_FIXED = re.compile(FIXED_CODE)
_SHOWN = re.compile(SHOWN_STYLE, re.IGNORECASE)
#: Where text stands in what else is a picture.
_FOREIGN_TEXTS = frozenset(("text", "foreignobject", "title", "desc"))
_ITEMS, _PRE, _BLOCK, _BOX, _REPLACED = (
    frozenset(name.decode() for name in names)
    for names in (BOXES_OF_ITEMS, PREFORMATTED, BLOCKS, BOXES, REPLACED)
)


def check(before: bytes, after: bytes, moved: bool) -> int:
    """Compare two pages: 0, or the line of the second from which it shows something else.

    White space that is shown as one space may be any; at the edges of what begins a line it may be missing. What
    is in scripts and styles is compared line by line. moved: of no concern here.
    """
    if before == after:
        _see_scanned(before)
        return 0
    shown, shows = _Shown(_tree(before)).events, _Shown(_tree(after)).events
    if shown == shows:
        return 0
    _see_well_formed(before)
    at = next((n for n, pair in enumerate(zip(shown, shows)) if pair[0] != pair[1]), len(shows))
    return _line_of_tag(after, sum(event[0] == "tag" for event in shown[:at]))


def _see_scanned(data: bytes) -> None:
    """Raise SyntaxError if a page cannot be taken apart into tags and texts."""
    try:
        match(scan(data), {})
    except ScanError as error:
        raise _syntax_error(data, error.offset, error.message) from error


def _syntax_error(data: bytes, offset: int, message: str) -> SyntaxError:
    line, column = data.count(b"\n", 0, offset) + 1, offset - data.rfind(b"\n", 0, offset)
    return SyntaxError(message, (None, line, column, None))


def _see_well_formed(data: bytes) -> None:
    """Raise SyntaxError if some tag of a page ends nothing, or an element is left open that has to be closed.

    Browsers make something of such pages, too, but of white space in them not always the same.
    """
    pieces = scan(data)
    matched = match(pieces, {})
    table_end = 0
    for number, piece in enumerate(pieces):
        if piece.name == b"table" and piece.what == "tag":
            table_end = max(table_end, matched.close[number])
        name = piece.name.decode("utf-8", "replace")
        if piece.what == "end_tag" and not matched.is_end[number]:
            raise _syntax_error(data, piece.start, f"</{name}> closes nothing")
        is_open = piece.what == "tag" and not piece.is_empty and not matched.has_end[number]
        if is_open and piece.name not in MAY_STAY_OPEN:
            raise _syntax_error(data, piece.start, f"<{name}> is not closed")
        if piece.what == "tag" and piece.name in TABLE_PARTS and number >= table_end:
            raise _syntax_error(data, piece.start, f"<{name}> stands outside a table")


def _tree(data: bytes) -> LexborNode | None:
    """The tree of a page. Of one that is XHTML, tags that end their own elements are read so."""
    data = data.removeprefix(BOM).replace(b"\r\n", b"\n")
    if is_xhtml(data):
        closed = [p for p in scan(data) if p.is_closed and p.name not in VOID | FOREIGN]
        data = apply_edits(data, [Edit(p.end, p.end, b"</" + p.name + b">") for p in closed])
    return LexborHTMLParser(data.decode()).root


def _line_of_tag(data: bytes, number: int) -> int:
    """The line of a tag, those not counted that are not written."""
    implied = ("html", "head", "body")
    tags = [piece for piece in scan(data) if piece.what == "tag"]
    missing = sum(not any(tag.name.decode() == name for tag in tags) for name in implied)
    at = min(max(0, number - missing - 1), len(tags) - 1)
    return data.count(b"\n", 0, tags[at].start) + 1 if tags else 1


class _Shown:
    """What a tree shows, as events: tags with their attributes, texts with their white space made even."""

    def __init__(self, root: LexborNode | None) -> None:
        self.events: list[tuple[Any, ...]] = []
        self._is_edge = True  # white space shows nothing here
        self._spaces: list[int] = []  # those events that show nothing if a line ends here
        if root is not None:
            self._walk(root, _with_blocks(root))

    def _walk(self, root: LexborNode, has_block: frozenset[int]) -> None:
        stack: list[tuple[LexborNode | None, LexborNode | None, str]] = [(root, None, "")]
        while stack:
            node, owner, mode = stack.pop()
            if node is None:
                if owner is not None:
                    self._edge(owner, has_block, False)
                    self.events.append(("end",))
                continue
            if node.next is not None and node is not root:
                stack.append((node.next, owner, mode))
            elif owner is not None:
                stack.append((None, owner, mode))
            tag = node.tag or ""
            if tag == "-text":
                self._text(node.text_content or "", owner, mode)
            elif tag == "-comment":
                self.events.append((
                    "comment", _LINE_END.sub("\n", node.comment_content or "").strip()
                ))
            elif not tag.startswith(("-", "!")):
                self._edge(node, has_block, True)
                self.events.append(("tag", tag, _attributes(node)))
                if node.child is not None:
                    shows = bool(_SHOWN.search(node.attributes.get("style") or ""))
                    stack.append((node.child, node, _mode(tag, shows, mode)))
                else:
                    self._edge(node, has_block, False)
                    self.events.append(("end",))

    def _edge(self, node: LexborNode, has_block: frozenset[int], is_begin: bool) -> None:
        """What the edge of an element does to white space."""
        tag = node.tag or ""
        is_box = tag in _BOX
        if tag in _BLOCK or tag == "br" or node.mem_id in has_block or is_box and not is_begin:
            for at in reversed(self._spaces):
                del self.events[at]
            self._spaces = []
            self._is_edge = not is_box
        elif is_box or tag in _REPLACED:
            self._spaces = []
            self._is_edge = is_box

    def _text(self, text: str, owner: LexborNode | None, mode: str) -> None:
        tag = owner.tag if owner is not None else ""
        if tag in ("script", "style"):
            said = text.strip()
            if said:
                self.events.append((
                    "raw", said if _FIXED.search(said) else _LINE_END.sub("\n", said)
                ))
        elif tag == "title" and not mode:  # which stands in no line
            self.events.append(("raw", _BLANKS.sub(" ", text).strip(" ")))
        elif mode == "shown":
            self.events.append(("raw", text))
            self._spaces, self._is_edge = [], False
        elif mode != "items" or text.strip():
            even = _BLANKS.sub(" ", text if text.isascii() else _UNSHOWN_END.sub("", text))
            if even.startswith(" "):
                self._space()
            if said := even.strip(" "):
                self.events.append(("text", said))
                self._spaces, self._is_edge = [], False
                if even.endswith(" "):
                    self._space()

    def _space(self) -> None:
        if not self._is_edge and not self._spaces:
            self._spaces.append(len(self.events))
            self.events.append(("text", " "))


def _attributes(node: LexborNode) -> list[tuple[str, str | None]]:
    """The attributes of an element; of its classes, the words."""
    return [
        (name, _BLANKS.sub(" ", value).strip(" ") if name == "class" and value else value)
        for name, value in node.attributes.items()
    ]


def _mode(tag: str, shows: bool, around: str) -> str:
    """What white space is in an element: `shown` as it is, nothing (`items`), or as in text ("")."""
    if shows or tag in _PRE or around == "shown":
        return "shown"
    if around == "items" and tag in _FOREIGN_TEXTS:
        return "shown"
    return "items" if tag in _ITEMS else around


def _with_blocks(root: LexborNode) -> frozenset[int]:
    """The elements in which something begins a line, by their numbers."""
    found: set[int] = set()
    for node in root.traverse():
        if node.tag in _BLOCK or node.tag == "hr":
            around = node.parent
            while around is not None and around.mem_id not in found and around.tag not in _BOX:
                found.add(around.mem_id)
                around = around.parent
    return frozenset(found)
