"""Texts that tokens hold: which they are, and how they stand in their tokens.

A sheet says of a node, which is one token, that it holds a text (`holds`), and by a pattern (`held`) which part of
it that is. All lines of the text but one that follows other parts of the token stand at the column of the token,
or further in, and begin with the same mark (`line-mark`), if any.
"""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence, Set
from dataclasses import dataclass
from functools import cached_property, lru_cache
from typing import NamedTuple

from stilo.edits import Edit
from stilo.embed.segments import Segment
from stilo.language import Language
from stilo.layout.render import FOLLOWED_TAB, margin_of, past_column, tab_columns
from stilo.patterns import compiled
from stilo.request import FindInner, Inner, narrowed
from stilo.result import Result, with_line_ends
from stilo.sheet.cascade import Style
from stilo.source import Position, Source
from stilo.tree.flat import Tree

#: In place of a language's name: the token itself says it.
SAID = "said"


class Form(NamedTuple):
    """How a text stands in a token: by which pattern, after which mark on each line, or "", and whether white
    space at the beginnings of its lines is its own."""

    pattern: re.Pattern[str]
    mark: str
    is_own: bool


class Opened(NamedTuple):
    """A token taken apart: what stands before the text, the text, how many characters of each of its lines are
    no part of it, what stands after it, and how the token calls its language."""

    before: str
    text: str
    margins: Sequence[int]
    after: str
    called: str


@lru_cache(maxsize=100)
def form_of(pattern: str, mark: str, indent: str, is_ours: bool) -> Form:
    found = compiled(pattern, re.DOTALL, is_ours)
    return Form(found, "" if mark == "none" else mark, indent == "text")


def opened(token: str, column: int, form: Form) -> Opened | None:
    """Take a token apart that begins at a column; None if it holds no text."""
    found = form.pattern.fullmatch(token)
    if found is None or found["text"] is None:
        return None
    start, end = found.span("text")
    if form.is_own:  # blank lines at its end are none of it
        end = start + len(found["text"].rstrip())
    sign = form.mark.strip()
    lines, margins = [], []
    for number, line in enumerate(token[start:end].split("\n")):
        rest = line
        if not form.is_own and (number or token[:start].endswith("\n")):
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


def closed(known: Opened, text: str, margin: str, form: Form, fixed: Set[int] = frozenset()) -> str:
    """The token with another text in it. margin: what its lines begin with, but for those of these numbers."""
    lines = []
    for number, line in enumerate(text.split("\n")):
        line = form.mark + line if line else form.mark.rstrip()
        is_further = (number or known.before.endswith("\n")) and number not in fixed
        lines.append(margin + line if is_further and line else line)
    return known.before + "\n".join(lines) + known.after


def lines_within_tokens(language: Language, text: str) -> set[int]:
    """The lines, from 0, that begin within a token that is no comment."""
    tree = language.read(text.encode()).tree
    found: set[int] = set()
    line = at = 0
    for start, token, leaf in zip(tree.token_start, tree.texts, tree.token_node):
        if (ends := token.count(b"\n")) and tree.kind[leaf] not in language.comments:
            line += tree.data.count(b"\n", at, start)
            at = start
            found.update(range(line + 1, line + ends + 1))
    return found


@lru_cache(maxsize=200)
def _meaning(language: Language, text: str) -> object:
    """The tokens of a text and the shape of its tree; the text itself if it cannot be read."""
    parsed = language.read(text.encode() + b"\n")
    if parsed.has_error:
        return text
    tree = parsed.tree
    tokens = [
        [line.strip() for line in token.split(b"\n")]
            if tree.kind[leaf] in language.comments
            else token
        for token, leaf in zip(tree.texts, tree.token_node)
    ]
    return tokens, tree.shape


def _same_but_margins(text: str, other: str) -> bool:
    """Whether two texts differ in no more than what their lines begin with."""
    lines, others = text.split("\n"), other.split("\n")
    return [line.lstrip(" \t") for line in lines] == [line.lstrip(" \t") for line in others]


def _without_margin(known: Opened, margin: str, fixed: Set[int]) -> Opened:
    """The same, without the margin of the first line in all others, too, but for some of them. A first line that
    does not begin in the text has none."""
    columns = len(margin.expandtabs(FOLLOWED_TAB))
    lines: list[str] = []
    margins = []
    for number, line in enumerate(known.text.split("\n")):
        is_whole = number in fixed or not (number or known.before.endswith("\n"))
        rest = line if is_whole else past_column(line.encode(), columns).decode()
        lines.append(rest)
        margins.append(max(0, len(line) - len(rest)))
    return known._replace(text="\n".join(lines), margins=margins)


def _margin(tree: Tree, token: int) -> str:
    """The white space with which the line of a token begins."""
    start = tree.token_start[token]
    line = tree.data[tree.data.rfind(b"\n", 0, start) + 1 : start]
    return line[:len(line) - len(line.lstrip(b" \t"))].decode()


def _begins_line(tree: Tree, token: int) -> bool:
    """Whether no more than white space stands before a token on its line."""
    start = tree.token_start[token]
    return not tree.data[tree.data.rfind(b"\n", 0, start) + 1 : start].strip()


class _Held(NamedTuple):
    """A token that holds a text. token: its number in the result. margin: what its lines begin with there."""

    number: int
    token: int
    margin: str
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
            str(style["held"].value),
            str(style["line-mark"].value),
            str(style["held-indent"].value),
            self.language.is_ours,
        )
        column = tree.column(new, FOLLOWED_TAB)
        known = opened(tree.texts[new].decode(), column, form)
        was_at = plan.tree.column(token, FOLLOWED_TAB)
        was = opened(plan.tree.source_text(token).decode(), was_at, form)
        if known is None or was is None or not known.text.strip():
            return None
        start = before.position(plan.tree.token_start[token])
        text, margin = known.text, " " * column
        if form.is_own:
            if not _same_but_margins(was.text, known.text):
                return None
            margin = _margin(tree, new)
            if known.before.endswith("\n"):
                margin = self._one_step_in(margin)
        elif was.text != known.text:
            return None
        said = str(style["holds"].value)
        inner = self.inner(known.called if said == SAID else said)
        if inner is None:
            return None
        if form.is_own:
            if was.before.endswith("\n"):
                ahead = next(filter(str.strip, was.text.split("\n")))
                ahead = ahead[:len(ahead) - len(ahead.lstrip(" \t"))]
            else:
                ahead = _margin(plan.tree, token) if _begins_line(plan.tree, token) else ""
            was = _without_margin(was, ahead, lines_within_tokens(inner.language, was.text))
            text = was.text
            column = len(margin.expandtabs(FOLLOWED_TAB))
        columns = self.columns + column + len(form.mark)
        values = narrowed(inner.values, columns)
        first = start.line + was.before.count("\n")
        places = tuple(
            Position(line, indent + 1 + (0 if line > start.line else start.column - 1))
            for line, indent in enumerate(was.margins, first)
        )
        own = Inner(inner.language, values, inner.origins)
        segment = Segment(
            number, text, places, style=own, is_free=True, columns=columns, is_moved=form.is_own
        )
        return _Held(number, new, margin, form, known, segment)

    def _one_step_in(self, margin: str) -> str:
        """What a line begins with that stands one step further in than another."""
        values = self.outer.values
        tab = tab_columns(values)
        column = len(margin.expandtabs(tab or FOLLOWED_TAB)) + int(values["indent"])
        return margin_of(column, tab).decode()

    def segments(self) -> list[Segment]:
        """The texts."""
        return [held.segment for held in self._held.values()]

    def edit(self, segment: Segment, text: str) -> Edit:
        """The edit of the document's bytes that gives a segment another text."""
        held, source, tree = self._held[segment.number], self.source, self._tree
        fixed: Set[int] = frozenset()
        if held.form.is_own and segment.style is not None:
            fixed = lines_within_tokens(segment.style.language, text)
        known = held.known
        if held.form.is_own and "\n" in known.after:  # what closes the token has a line of its own
            margin = _margin(self._tree, held.token)
            known = known._replace(after=f"\n{margin}{known.after.lstrip()}")
        new = closed(known, text, held.margin, held.form, fixed).encode()
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
                text: object = texts.get(held.number, known.text)
                if held.form.is_own and held.segment.style is not None:
                    text = _meaning(held.segment.style.language, str(text))
                    known = known._replace(after=known.after.lstrip())
                said[held.token] = (known.before, text, known.after, column)
        return said, tree.shape
