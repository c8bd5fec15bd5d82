"""Whether two pages show the same, by the tree that a browser's rules make of them (read by Lexbor)."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Any

from selectolax.lexbor import LexborHTMLParser, LexborNode

from stilo.languages.html.elements import BLOCKS, BOXES, BOXES_OF_ITEMS, PREFORMATTED, UNSHOWN
from stilo.languages.html.scan import scan
from stilo.source import BOM

_BLANKS = re.compile(r"[ \t\n\f\r]+")
_LINE_END = re.compile(r"[ \t]*\n[ \t]*")
_FIXED = re.compile(r"`|\\\n")
_SHOWS_BLANKS = re.compile(r"white-space(?:-collapse)?\s*:\s*(?:pre|break-spaces|preserve)", re.IGNORECASE)
_ITEMS, _PRE, _BLOCK, _BOX, _NONE = (
    frozenset(name.decode() for name in names)
    for names in (BOXES_OF_ITEMS, PREFORMATTED, BLOCKS, BOXES, UNSHOWN)
)


def check(before: bytes, after: bytes, moved: bool) -> int:
    """Compare two pages: 0, or the line of the second from which it shows something else.

    White space that is shown as one space may be any; at the edges of what begins a line it may be missing. What
    is in scripts and styles is compared line by line. moved: of no concern here.
    """
    found = _Shown(_tree(after)).events()
    tags = 0
    for event in _Shown(_tree(before)).events():
        other = next(found, None)
        if event != other:
            return _line_of_tag(after, tags)
        tags += event[0] == "tag"
    return 0 if next(found, None) is None else _line_of_tag(after, tags)


def _tree(data: bytes) -> LexborNode | None:
    return LexborHTMLParser(data.removeprefix(BOM).replace(b"\r\n", b"\n").decode()).root


def _line_of_tag(data: bytes, number: int) -> int:
    """The line of a tag, those not counted that are not written."""
    implied = ("html", "head", "body")
    tags = [piece for piece in scan(data) if piece.what == "tag"]
    missing = sum(not any(tag.name.decode() == name for tag in tags) for name in implied)
    at = min(max(0, number - missing - 1), len(tags) - 1)
    return data.count(b"\n", 0, tags[at].start) + 1 if tags else 1


class _Shown:
    """What a tree shows, event by event: tags with their attributes, texts with their white space made even."""

    def __init__(self, root: LexborNode | None) -> None:
        self._root = root
        self._blocks: dict[int, bool] = {}
        self._is_edge = True  # white space shows nothing here
        self._is_space = False  # some is waiting for what shows it

    def events(self) -> Iterator[tuple[Any, ...]]:
        """All events."""
        if self._root is None:
            return
        has_block = _with_blocks(self._root)
        stack: list[tuple[LexborNode | None, LexborNode | None, bool]] = [(self._root, None, False)]
        while stack:
            node, owner, is_pre = stack.pop()
            if node is None:
                if owner is not None:
                    yield from self._edge(owner, has_block, False)
                    yield ("end",)
                continue
            if node.next is not None and node is not self._root:
                stack.append((node.next, owner, is_pre))
            elif owner is not None:
                stack.append((None, owner, is_pre))
            tag = node.tag or ""
            if tag == "-text":
                yield from self._text(node, owner, is_pre)
            elif tag == "-comment":
                lines = _LINE_END.sub("\n", node.comment_content or "")
                yield ("comment", lines.strip())
            elif not tag.startswith(("-", "!")):
                yield from self._edge(node, has_block, True)
                yield ("tag", tag, list(node.attributes.items()))
                if node.child is not None:
                    shows = bool(_SHOWS_BLANKS.search(node.attributes.get("style") or ""))
                    stack.append((node.child, node, is_pre or shows or tag in _PRE))
                else:
                    yield from self._edge(node, has_block, False)

    def _edge(self, node: LexborNode, has_block: frozenset[int], is_begin: bool) -> Iterator[tuple[Any, ...]]:
        """What the edge of an element does to white space."""
        tag = node.tag or ""
        if tag in _BLOCK or node.mem_id in has_block:
            self._is_edge, self._is_space = True, False
        elif tag in _NONE:
            return
        elif tag in _BOX:
            if is_begin:
                yield from self._space()
                self._is_edge = True
            else:
                self._is_edge = self._is_space = False
        elif tag == "br":
            self._is_edge, self._is_space = True, False
        else:
            yield from self._space()
            self._is_edge = False

    def _space(self) -> Iterator[tuple[Any, ...]]:
        if self._is_space:
            yield ("text", " ")
        self._is_space = False

    def _text(self, node: LexborNode, owner: LexborNode | None, is_pre: bool) -> Iterator[tuple[Any, ...]]:
        text = node.text_content or ""
        tag = owner.tag if owner is not None else ""
        if tag in ("script", "style"):
            said = text.strip()
            yield ("raw", said if _FIXED.search(said) else _LINE_END.sub("\n", said))
        elif is_pre:
            yield ("raw", text)
        elif tag in _ITEMS and not text.strip():
            return
        else:
            even = _BLANKS.sub(" ", text)
            if not even.strip(" "):
                self._is_space = self._is_space or not self._is_edge
                return
            if even.startswith(" ") and not self._is_edge:
                self._is_space = True
            yield from self._space()
            yield ("text", even.strip(" "))
            self._is_edge, self._is_space = False, even.endswith(" ")


def _with_blocks(root: LexborNode) -> frozenset[int]:
    """The elements in which something begins a line, by their numbers."""
    found: set[int] = set()
    for node in root.traverse():
        if node.tag in _BLOCK or node.tag == "hr":
            around = node.parent
            while around is not None and around.mem_id not in found and around.tag not in _BOX | _NONE:
                found.add(around.mem_id)
                around = around.parent
    return frozenset(found)
