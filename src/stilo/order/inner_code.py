"""Code within tokens, such as what a template string puts in: its spaces are set right, within its line.

A sheet says which tokens these are, and what in them is code (`inner-code`). Before anything is laid out, each piece
is read alone, and the spaces between its tokens become what they are elsewhere. No line end comes into it.
"""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import field

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
    forms = []
    for token in pieces.tokens(tree):
        for start, end in said.spans(tree.texts[token]) if token not in stay else ():
            code, offset = tree.texts[token][start:end], tree.token_start[token]
            start, end = start + offset, end + offset
            line = source.position(start).line
            is_asked = lines is None or any(first <= line <= last for first, last in lines)
            if is_asked and (new := pieces.laid_out(code)) != code:
                edit = Edit(start, end, new)
                forms.append(Form(start, (edit,), "other spaces wanted in this code", said.setting))
    return rewritten(
        text,
        forms,
        "form",
        "other spaces in the code within its tokens",
        lambda new: pieces.meaning(new.tree) == pieces.meaning(tree),
    )


@dataclass
class _Pieces:
    """The pieces of code in a text, as a style lays them out. known: those that were laid out."""

    said: InnerCode
    language: Language
    values: Mapping[str, Value]
    known: dict[bytes, bytes] = field(default_factory=dict)

    def tokens(self, tree: Tree) -> list[int]:
        """The tokens that may hold code."""
        return tree.tokens_of(self.language.kinds.numbers(self.said.kind))

    def laid_out(self, code: bytes) -> bytes:
        """A piece with its spaces as they are elsewhere; the same if it cannot be read."""
        solid = code.strip()
        if _NAME.fullmatch(solid):
            return solid
        if code not in self.known:
            tree = self._read(code)
            self.known[code] = code if tree is None else self._spaced(tree)
        return self.known[code]

    def _read(self, code: bytes) -> Tree | None:
        """The tree of a piece with what makes it a statement around it; None if it cannot be read."""
        before, after = self.said.around
        parsed = self.language.read(before + code + after + b"\n")
        return None if parsed.has_error else parsed.tree

    def _spaced(self, tree: Tree) -> bytes:
        rows, signs = self.language.rows(self.values), self.language.kinds.punctuation
        spaces = plan(tree, rows, signs, Measures.of(self.values)).space
        inner = range(1, len(tree.texts) - 1)
        return b"".join(b" " * spaces[token] + tree.texts[token] for token in inner).strip()

    def meaning(self, tree: Tree) -> tuple[object, list[int]]:
        """The tokens of a text, with those of the code in them, and the kinds of its nodes."""
        said: list[object] = list(tree.texts)
        for token in self.tokens(tree):
            said[token] = list(self._said(tree.texts[token]))
        return said, tree.kind

    def _said(self, text: bytes) -> list[object]:
        found: list[object] = []
        at = 0
        for start, end in self.said.spans(text):
            inner = self._read(text[start:end])
            found += [
                text[at:start],
                text[start:end] if inner is None else (inner.texts, inner.kind),
            ]
            at = end
        return [*found, text[at:]]
