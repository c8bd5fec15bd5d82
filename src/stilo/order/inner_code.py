"""Code within tokens, such as what a template string puts in: its spaces are set right, within its line.

A sheet says which tokens these are, and what in them is code (`inner-code`). Before anything is laid out, the
pieces are read, each as a statement of its own, and the spaces between their tokens become what they are elsewhere. No
line end comes into them.
"""

from __future__ import annotations

import re
from bisect import bisect_left
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import field
from itertools import accumulate
from typing import NamedTuple

from stilo.edits import Edit
from stilo.language import Language
from stilo.layout.measures import Measures
from stilo.layout.planning import plan
from stilo.order.passes import Ordered, rewritten
from stilo.order.text import Text
from stilo.records import dataclass
from stilo.sheet.facts import InnerCode
from stilo.sheet.properties import Value
from stilo.source import LineRange
from stilo.support import Form
from stilo.tree.flat import Tree

#: What has no spaces in it, and need not be read.
_NAME = re.compile(rb"[\w$]+(?:\.[\w$]+)*")


def put_inner_code(
    text: Text,
    values: Mapping[str, Value],
    lines: Sequence[LineRange] | None,
    left: Sequence[range],
) -> Ordered | None:
    """The text with the spaces in such code as a style asks for; None if that changes nothing.

    lines: only code that begins in these. left: runs of gaps that stay as they are. Raises UnsafeResult.
    """
    said = text.language.facts.inner_code
    if said is None or values.get(said.setting) != said.value:
        return None
    tree, source, pieces = text.tree, text.source, _Pieces(said, text.language, values)
    stay = {token for gaps in left for token in gaps}
    found: list[tuple[int, bytes]] = []
    for token in pieces.tokens(tree):
        for start, end in said.spans(tree.texts[token]) if token not in stay else ():
            at = tree.token_start[token] + start
            line = source.position(at).line
            if lines is None or any(first <= line <= last for first, last in lines):
                found.append((at, tree.texts[token][start:end]))
    pieces.learn(code for _, code in found)
    forms = []
    for start, code in found:
        if (new := pieces.laid_out(code)) != code:
            edit = Edit(start, start + len(code), new)
            forms.append(Form(start, (edit,), "other spaces wanted in this code", said.setting))
    return rewritten(
        text,
        forms,
        "form",
        "other spaces in the code within its tokens",
        lambda new: pieces.meaning(new.tree) == pieces.meaning(tree),
    )


class _Piece(NamedTuple):
    """A piece of code as it was read: its tokens, the kinds of its nodes, and the code as it is laid out."""

    texts: list[bytes]
    kinds: list[int]
    laid_out: bytes


@dataclass
class _Pieces:
    """The pieces of code in a text, as a style lays them out. known: those that were looked at; None: unreadable."""

    said: InnerCode
    language: Language
    values: Mapping[str, Value]
    known: dict[bytes, _Piece | None] = field(default_factory=dict)

    def tokens(self, tree: Tree) -> list[int]:
        """The tokens that may hold code."""
        return tree.tokens_of(self.language.kinds.numbers(self.said.kind))

    def laid_out(self, code: bytes) -> bytes:
        """A piece with its spaces as they are elsewhere; the same if it cannot be read."""
        solid = code.strip()
        if _NAME.fullmatch(solid):
            return solid
        self.learn([code])
        piece = self.known[code]
        return code if piece is None else piece.laid_out

    def learn(self, codes: Iterable[bytes]) -> None:
        """Read the pieces that are not known yet: all at once, or each alone if they cannot be."""
        wanted = [code for code in dict.fromkeys(codes) if not _NAME.fullmatch(code.strip())]
        new = [code for code in wanted if code not in self.known]
        if new and not self._read(new):
            for code in new:
                if not self._read([code]):
                    self.known[code] = None

    def _read(self, codes: Sequence[bytes]) -> bool:
        """Read some pieces, each with what makes it a statement around it. False: they cannot be read so."""
        before, after = self.said.around
        texts = [before + code + after + b"\n" for code in codes]
        starts = list(accumulate(map(len, texts), initial=0))
        parsed = self.language.read(b"".join(texts))
        if parsed.has_error or parsed.unread:
            return False
        tree = parsed.tree
        statements = list(tree.children(0))
        if list(map(tree.start, statements)) != starts[:-1]:
            return False
        rows, signs = self.language.rows(self.values), self.language.kinds.punctuation
        spaces = plan(tree, rows, signs, Measures.of(self.values)).space
        for code, start, node in zip(codes, starts, statements):
            begin = start + len(before)
            inside = range(
                bisect_left(tree.token_start, begin),
                bisect_left(tree.token_start, begin + len(code)),
            )
            self.known[code] = _Piece(
                [tree.texts[token] for token in inside],
                tree.kind[node:tree.after(node)],
                self._spaced(tree, spaces, inside),
            )
        return True

    def _spaced(self, tree: Tree, spaces: Sequence[int], inside: range) -> bytes:
        """The tokens of a piece with so many spaces before each."""
        return b"".join(b" " * spaces[token] + tree.texts[token] for token in inside).strip()

    def meaning(self, tree: Tree) -> tuple[object, list[int]]:
        """The tokens of a text, with those of the code in them, and the kinds of its nodes."""
        said: list[object] = list(tree.texts)
        parts = {token: list(self._parts(tree.texts[token])) for token in self.tokens(tree)}
        self.learn(code for found in parts.values() for code in found[1::2])
        for token, found in parts.items():
            said[token] = [
                self._meant(text) if number % 2 else text for number, text in enumerate(found)
            ]
        return said, tree.kind

    def _parts(self, text: bytes) -> Iterator[bytes]:
        """Text and pieces of code, in turn."""
        at = 0
        for start, end in self.said.spans(text):
            yield text[at:start]
            yield text[start:end]
            at = end
        yield text[at:]

    def _meant(self, code: bytes) -> object:
        piece = self.known.get(code)
        return code.strip() if piece is None else (piece.texts, piece.kinds)
