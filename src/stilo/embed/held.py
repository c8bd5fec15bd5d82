"""Texts that tokens hold: which they are, and how they stand in their tokens.

A sheet says of a node, which is one token, that it holds a text (`holds`), and by a pattern (`held`) which part of
it that is. All lines of the text but one that follows other parts of the token stand at the column of the token,
or further in, and begin with the same mark (`line-mark`), if any.
"""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache
from typing import NamedTuple

from stilo.edits import Edit
from stilo.embed.segments import Segment
from stilo.language import Language
from stilo.layout.render import FOLLOWED_TAB, past_column
from stilo.patterns import compiled
from stilo.request import FindInner, Inner, narrowed
from stilo.result import Result, with_line_ends
from stilo.sheet.cascade import Style
from stilo.source import Position, Source
from stilo.tree.flat import Tree

#: In place of a language's name: the token itself says it.
SAID = "said"


class Form(NamedTuple):
    """How a text stands in a token: by which pattern, and after which mark on each line, or ""."""

    pattern: re.Pattern[str]
    mark: str


class Opened(NamedTuple):
    """A token taken apart: what stands before the text, the text, how many characters of each of its lines are
    no part of it, what stands after it, and how the token calls its language."""

    before: str
    text: str
    margins: Sequence[int]
    after: str
    called: str


@lru_cache(maxsize=100)
def form_of(pattern: str, mark: str, is_ours: bool) -> Form:
    return Form(compiled(pattern, re.DOTALL, is_ours), "" if mark == "none" else mark)


def opened(token: str, column: int, form: Form) -> Opened | None:
    """Take a token apart that begins at a column; None if it holds no text."""
    found = form.pattern.fullmatch(token)
    if found is None or found["text"] is None:
        return None
    start, end = found.span("text")
    sign = form.mark.strip()
    lines, margins = [], []
    for number, line in enumerate(found["text"].split("\n")):
        rest = line
        if number or token[:start].endswith("\n"):
            rest = past_column(line.encode(), column).decode()
        if sign:
            marked = rest.lstrip(" ")
            if len(rest) - len(marked) < FOLLOWED_TAB and marked.startswith(sign):
                rest = marked.removeprefix(sign)
                if rest.startswith("\t"):
                    return None  # a part of the tab would be the mark's, a part the text's
                rest = rest.removeprefix(" ")
        lines.append(rest)
        margins.append(max(0, len(line) - len(rest)))
    called = found.groupdict().get("language") or ""
    return Opened(token[:start], "\n".join(lines), margins, token[end:], called)


def closed(known: Opened, text: str, column: int, form: Form) -> str:
    """The token with another text in it."""
    lines = []
    for number, line in enumerate(text.split("\n")):
        line = form.mark + line if line else form.mark.rstrip()
        is_further = number or known.before.endswith("\n")
        lines.append(" " * column + line if is_further and line else line)
    return known.before + "\n".join(lines) + known.after


class _Held(NamedTuple):
    """A token that holds a text. token: its number in the result. column: at which it begins there."""

    number: int
    token: int
    column: int
    form: Form
    known: Opened
    segment: Segment


def held_texts(result: Result, inner: FindInner, columns: int = 0) -> HeldTexts | None:
    """The texts that a result holds, in languages that are known; None if there are none.

    columns: how far in the result itself stands.
    """
    plan, tree = result._plan, result._plan.tree
    rows, leaves = plan.rows, tree.token_node
    if not rows.has_held:
        return None
    stays = result._rendered.kept.tokens
    tokens = [
        token
        for token in plan.opaque
        if rows.style[plan.row[leaves[token]]]["holds"].value != "none" and token not in stays
    ]
    found = HeldTexts(result, inner, tuple(tokens), columns)
    return found if found.segments() else None


@dataclass(frozen=True)
class HeldTexts:
    """The texts in the tokens of a document that was laid out (see `Host`).

    outer: what was found in it. inner: finds the styles of texts. tokens: those of the source that hold
    texts. columns: how far in the document itself stands.
    """

    outer: Result
    inner: FindInner
    tokens: tuple[int, ...]
    columns: int
    noun = "text"

    @property
    def language(self) -> Language:
        """The document's own, though each segment names one."""
        return self.outer.language

    @cached_property
    def source(self) -> Source:
        """The document as it was laid out."""
        source = self.outer.source
        return Source.from_bytes(self.outer.data, source.name, source.charset)

    @cached_property
    def _tree(self) -> Tree:
        return self._read(self.source)

    def _read(self, source: Source) -> Tree:
        return self.language.bracketed(self.language.read(source.data).tree)

    @cached_property
    def _held(self) -> dict[int, _Held]:
        """The tokens that hold texts in known languages, by the numbers of their segments."""
        plan, before = self.outer._plan, self.outer.source
        edits, tree, after = self.outer.edits, self._tree, self.source
        places = {after.original(start): token for token, start in enumerate(tree.token_start)}
        found: dict[int, _Held] = {}
        shift = at = 0
        for number, token in enumerate(self.tokens, 1):
            style = plan.rows.style[plan.row[plan.tree.token_node[token]]]
            start = before.original(plan.tree.token_start[token])
            while at < len(edits) and edits[at].end <= start:  # up to the gap before the token
                shift += len(edits[at].text) - (edits[at].end - edits[at].start)
                at += 1
            new = places.get(start + shift)
            held = None if new is None else self._held_in(number, token, new, style)
            if held is not None:
                found[number] = held
        return found

    def _held_in(self, number: int, token: int, new: int, style: Style) -> _Held | None:
        plan, tree, before = self.outer._plan, self._tree, self.outer.source
        if style["inside"].value != "laid-out":
            return None
        form = form_of(
            str(style["held"].value), str(style["line-mark"].value), self.language.is_ours
        )
        column = tree.column(new, FOLLOWED_TAB)
        known = opened(tree.texts[new].decode(), column, form)
        was_at = plan.tree.column(token, FOLLOWED_TAB)
        was = opened(plan.tree.source_text(token).decode(), was_at, form)
        if known is None or was is None or was.text != known.text or not known.text.strip():
            return None
        said = str(style["holds"].value)
        inner = self.inner(known.called if said == SAID else said)
        if inner is None:
            return None
        columns = self.columns + column + len(form.mark)
        values = narrowed(inner.values, columns)
        start = before.position(plan.tree.token_start[token])
        first = start.line + was.before.count("\n")
        places = tuple(
            Position(line, margin + 1 + (0 if line > start.line else start.column - 1))
            for line, margin in enumerate(was.margins, first)
        )
        own = Inner(inner.language, values, inner.origins)
        segment = Segment(number, known.text, places, style=own, is_free=True, columns=columns)
        return _Held(number, new, column, form, known, segment)

    def segments(self) -> list[Segment]:
        """The texts."""
        return [held.segment for held in self._held.values()]

    def edit(self, segment: Segment, text: str) -> Edit:
        """The edit of the document's bytes that gives a segment another text."""
        held, source, tree = self._held[segment.number], self.source, self._tree
        new = closed(held.known, text, held.column, held.form).encode()
        start, end = tree.token_start[held.token], tree.token_end[held.token]
        eol = b"\r\n" if source.has_crlf else b"\n"
        data = source.encode(with_line_ends(new, eol))
        return Edit(source.original(start), source.original(end), data)

    def said(self, data: bytes, texts: Mapping[int, str]) -> object:
        """The tokens of a document and the shape of its tree; of texts in tokens, what they say."""
        source = (
            self.source
            if data == self.source.raw
            else Source.from_bytes(data, self.source.name, self.source.charset)
        )
        tree = self._tree if source is self.source else self._read(source)
        said: list[object] = list(tree.texts)
        for held in self._held.values():
            if held.token >= len(said):
                return None
            column = tree.column(held.token, FOLLOWED_TAB)
            known = opened(tree.texts[held.token].decode(), column, held.form)
            if known is not None:
                text = texts.get(held.number, known.text)
                said[held.token] = (known.before, text, known.after, column)
        return said, tree.shape
