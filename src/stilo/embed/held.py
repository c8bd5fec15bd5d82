"""Texts that tokens hold: which they are, and how they stand in their tokens.

A sheet says of a node, which is one token, that it holds a text (`holds`), and by a pattern (`held`) which part of
it that is. All lines of the text but one that follows other parts of the token stand at the column of the token,
or further in, and begin with the same mark (`line-mark`), if any.
"""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence, Set
from functools import cached_property, lru_cache
from typing import NamedTuple

from stilo.edits import Edit, moved_back
from stilo.embed.command import words_of
from stilo.embed.foreign import Holes, holes_aside
from stilo.embed.segments import Segment
from stilo.explain.reasons import Reason
from stilo.language import Language
from stilo.layout.render import FOLLOWED_TAB, margin_of, past_column, tab_columns
from stilo.patterns import compiled
from stilo.records import dataclass
from stilo.request import Command, FindInner, Inner, narrowed
from stilo.result import Result, Unread, with_line_ends
from stilo.sheet.cascade import Style
from stilo.source import Position, Source
from stilo.tree.flat import Tree

#: In place of a language's name: the token itself says it.
SAID = "said"


class Form(NamedTuple):
    """How a text stands in a token: by which pattern, after which mark on each line, or "", and whether white
    space at the beginnings of its lines is its own, or but for what they share (is_shared)."""

    pattern: re.Pattern[str]
    mark: str
    is_own: bool
    is_shared: bool = False


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
    return Form(found, "" if mark == "none" else mark, indent != "outside", indent == "shared")


def opened(token: str, column: int, form: Form) -> Opened | None:
    """Take a token apart that begins at a column; None if it holds no text."""
    found = form.pattern.fullmatch(token)
    if found is None or found["text"] is None:
        return None
    start, end = found.span("text")
    if form.is_own:  # blank lines around it are none of it
        end = start + len(found["text"].rstrip())
        start = max(start, token.rfind("\n", start, end - len(found["text"].strip())) + 1)
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
def _meaning(language: Language, text: str, holes: Holes | None) -> object:
    """The tokens of a text and the shape of its tree; the text itself if it cannot be read."""
    plain, aside = holes_aside(text, holes)
    parsed = language.read(plain.encode() + b"\n")
    if parsed.has_error:
        return text
    tree = parsed.tree
    tokens = [
        [line.strip() for line in token.split(b"\n")]
            if tree.kind[leaf] in language.comments
            else token
        for token, leaf in zip(tree.texts, tree.token_node)
    ]
    return tokens, tree.shape, aside


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


@lru_cache(maxsize=100)
def _holes_of(outer: str, outer_is_ours: bool, inner: Language) -> Holes | None:
    """What is no part of a text in a language, by a pattern of the outer language, or "none", and its own."""
    facts = inner.facts
    patterns = [] if outer == "none" else [outer]
    patterns += [] if facts.holes is None else [facts.holes.pattern]
    if not patterns:
        return None
    found = compiled("|".join(patterns), 0, outer_is_ours and inner.is_ours)
    return Holes(found) if facts.hole_form is None else Holes(found, facts.hole_form)


class _Held(NamedTuple):
    """A token that holds a text. token: its number in the result. margin: what its lines begin with there. outer:
    what the line of the token begins with. is_opened: the text is to have lines of its own, which it had not."""

    number: int
    token: int
    margin: str
    outer: str
    is_opened: bool
    form: Form
    known: Opened
    segment: Segment


class _Asked(NamedTuple):
    """What the sheet says of a token of the source that holds a text, and what lays that out."""

    number: int
    token: int
    style: Style
    form: Form
    was: Opened
    inner: Inner | Command
    holes: Holes | None


def held_texts(result: Result, inner: FindInner, columns: int = 0) -> HeldTexts | None:
    """The texts that a result holds; None if there are none.

    columns: how far in the result itself stands.
    """
    plan = result._plan
    rows, leaves = plan.rows, plan.tree.token_node
    if not rows.has_held:
        return None
    stays = result._rendered.kept.tokens
    tokens = [
        token
        for token in plan.opaque
        if rows.style[plan.row[leaves[token]]]["holds"].value != "none" and token not in stays
    ]
    return HeldTexts(result, inner, tuple(tokens), columns) if tokens else None


@dataclass(frozen=True)
class HeldTexts:
    """The texts in the tokens of a document that was laid out (see `Host`).

    outer: what was found in it. inner: finds what lays texts out. tokens: those of the source that hold
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

    @property
    def is_opened(self) -> bool:
        """Whether texts got lines of their own, so that what is around them may stand otherwise."""
        return any(held.is_opened for held in self._held.values())

    @property
    def unread(self) -> list[Unread]:
        """The texts that stay since nothing is known that lays them out, and why."""
        return [found for found in self._asked.values() if isinstance(found, Unread)]

    @cached_property
    def _tree(self) -> Tree:
        return self._read(self.source)

    def _read(self, source: Source) -> Tree:
        return self.language.bracketed(self.language.read(source.data).tree)

    @cached_property
    def _asked(self) -> dict[int, _Asked | Unread]:
        """The tokens of the source that hold texts to be laid out, or that cannot be, by number."""
        found = {}
        for number, token in enumerate(self.tokens, 1):
            asked = self._asked_of(number, token)
            if asked is not None:
                found[number] = asked
        return found

    def _asked_of(self, number: int, token: int) -> _Asked | Unread | None:
        plan = self.outer._plan
        style = plan.rows.style[plan.row[plan.tree.token_node[token]]]
        if style["inside"].value != "laid-out":
            return None
        form = form_of(
            str(style["held"].value),
            str(style["line-mark"].value),
            str(style["held-indent"].value),
            self.language.is_ours,
        )
        if self._offset(token) is None:
            return None  # it was written anew
        text = plan.tree.source_text(token).decode()
        was = opened(text, plan.tree.column(token, FOLLOWED_TAB), form)
        called = str(style["holds"].value)
        is_said = called == SAID
        if was is None:
            why = f"cannot be laid out as {called}: not all signs in it stand for themselves"
            return None if is_said or "\n" not in text else self._unread(token, why)
        if not was.text.strip() or form.is_own and was.before and "\n" not in text:
            return None
        inner = self.inner(was.called if is_said else called)
        if inner is None:
            why = f'cannot be laid out: no language, and no command of yours, is called "{called}"'
            return None if is_said else self._unread(token, why)
        is_whole = "\n" in was.before and "\n" in was.after
        if form.is_own and was.before and not is_whole and _ends_matter(inner):
            why = f"cannot be laid out as {called}: white space where the text begins or ends may show"
            return self._unread(token, why)
        holes = None
        if isinstance(inner, Inner):
            pattern = str(style["holes"].value)
            holes = _holes_of(pattern, self.language.is_ours, inner.language)
        if form.is_shared and _fixed_lines(inner, was.text, holes):
            why = f"cannot be laid out as {called}: a line begins within a token, and would move"
            return self._unread(token, why)
        return _Asked(number, token, style, form, was, inner, holes)

    def _offset(self, token: int) -> int | None:
        """Where a token of the text that was laid out begins in the source, which may have other imports, ends of
        statements and forms; None if it is not there."""
        start, ordered = self.outer._plan.tree.token_start[token], self.outer._ordered
        return start if ordered is None else moved_back(start, ordered.arrangement.edits)

    def _position(self, token: int) -> Position:
        """Where a token that is in the source begins."""
        return self.outer.source.position(self._offset(token) or 0)

    def _unread(self, token: int, why: str) -> Unread:
        plan = self.outer._plan
        start = self._position(token)
        return Unread(start, start.line + plan.tree.source_text(token).count(b"\n"), why)

    @cached_property
    def _held(self) -> dict[int, _Held]:
        """The tokens that hold texts to be laid out, by the numbers of their segments."""
        before, edits = self.outer.source, self.outer.edits
        asked = [found for found in self._asked.values() if isinstance(found, _Asked)]
        found: dict[int, _Held] = {}
        if not asked:
            return found
        tree, after = self._tree, self.source
        places = {after.original(start): token for token, start in enumerate(tree.token_start)}
        shift = at = 0
        for one in asked:
            start = before.original(self._offset(one.token) or 0)
            while at < len(edits) and edits[at].end <= start:  # up to the gap before the token
                shift += len(edits[at].text) - (edits[at].end - edits[at].start)
                at += 1
            new = places.get(start + shift)
            held = None if new is None else self._held_in(one, new)
            if held is not None:
                found[one.number] = held
        return found

    def _held_in(self, asked: _Asked, new: int) -> _Held | None:
        form, was, inner, token = asked.form, asked.was, asked.inner, asked.token
        plan, tree = self.outer._plan, self._tree
        column = tree.column(new, FOLLOWED_TAB)
        known = opened(tree.texts[new].decode(), column, form)
        if known is None or not known.text.strip():
            return None
        is_same = _same_but_margins if form.is_own else str.__eq__
        if not is_same(was.text, known.text):
            return None
        start = self._position(token)
        text, margin, outer = known.text, " " * column, ""
        is_opened, holes = False, asked.holes
        if form.is_own:
            fixed = _fixed_lines(inner, was.text, holes)
            outer = margin = _margin(tree, new)
            ahead = self._ahead(asked, fixed)
            if known.before:
                is_opened = "\n" not in known.before or "\n" not in known.after
                margin = self._margin_in(asked.style, margin, ahead)
            was = _without_margin(was, ahead, fixed)
            text = was.text
            column = len(margin.expandtabs(FOLLOWED_TAB))
        columns = self.columns + column + len(form.mark)
        first = start.line + was.before.count("\n")
        places = tuple(
            Position(line, indent + 1 + (0 if line > start.line else start.column - 1))
            for line, indent in enumerate(was.margins, first)
        )
        command = style = None
        if isinstance(inner, Command):
            command = inner
        else:
            style = inner._replace(values=narrowed(inner.values, columns))
        segment = Segment(
            asked.number,
            text,
            places,
            style=style,
            holes=holes,
            command=command,
            width=int(narrowed(self.outer.values, columns)["width"]),
            is_free=True,
            columns=columns,
            reason=self._reason(asked, known) if form.is_own else None,
        )
        return _Held(asked.number, new, margin, outer, is_opened, form, known, segment)

    def _reason(self, asked: _Asked, known: Opened) -> Reason:
        """What says where the lines of a text begin."""
        reasons = self.outer._reasons
        found = reasons.of_indent(asked.token)
        if known.before:
            found = reasons.of(asked.style["held-margin"], "held-margin")
        return found.traced(self.outer.origins)

    def _ahead(self, asked: _Asked, fixed: Set[int]) -> str:
        """What the lines of a text began with that is none of it."""
        was, tree = asked.was, self.outer._plan.tree
        lines = was.text.split("\n")
        if was.before.endswith("\n"):
            first = next(filter(str.strip, lines))
            return first[:len(first) - len(first.lstrip(" \t"))]
        if was.before:
            further = (
                line for n, line in enumerate(lines) if n and n not in fixed and line.strip()
            )
            return min(
                (line[:len(line) - len(line.lstrip(" \t"))] for line in further),
                key=_columns_of,
                default=""
            )
        return _margin(tree, asked.token) if _begins_line(tree, asked.token) else ""

    def _margin_in(self, style: Style, margin: str, stood: str) -> str:
        """What the lines of a text begin with whose token stands in a line with a margin."""
        where = str(style["held-margin"].value)
        if where == "line":
            return margin
        values = self.outer.values
        tab = tab_columns(values)
        if where == "stood":
            return margin_of(_columns_of(stood), tab).decode()
        column = len(margin.expandtabs(tab or FOLLOWED_TAB)) + int(values["indent"])
        return margin_of(column, tab).decode()

    def segments(self) -> list[Segment]:
        """The texts."""
        return [held.segment for held in self._held.values()]

    def edit(self, segment: Segment, text: str) -> Edit:
        """The edit of the document's bytes that gives a segment another text."""
        held, source, tree = self._held[segment.number], self.source, self._tree
        fixed: Set[int] = frozenset()
        known = held.known
        if held.form.is_own and segment.style is not None:
            fixed = _fixed_lines(segment.style, text, segment.holes)
        if held.form.is_own and known.before:
            known = known._replace(before=known.before.rstrip(" \t\n") + "\n")
        if held.form.is_own and (known.before or "\n" in known.after):
            # What closes the token has a line of its own, no further in than those of the text.
            margin = min(held.outer, held.margin, key=_columns_of)
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
                said[held.token] = (*_said(held, known, texts.get(held.number, known.text)), column)
        return said, tree.shape


def _ends_matter(inner: Inner | Command) -> bool:
    return isinstance(inner, Inner) and inner.language.facts.ends_matter


def _columns_of(margin: str) -> int:
    return len(margin.expandtabs(FOLLOWED_TAB))


def _fixed_lines(inner: Inner | Command, text: str, holes: Holes | None) -> Set[int]:
    """The lines of a text that begin within one of its tokens."""
    if isinstance(inner, Command):
        return frozenset()  # a command lays out no text with such lines
    return lines_within_tokens(inner.language, holes_aside(text, holes)[0])


def _said(held: _Held, known: Opened, text: str) -> tuple[object, object, object]:
    """What a token says: what stands before its text, that, and what stands after it."""
    if not held.form.is_own:
        return known.before, text, known.after
    before, after = known.before.rstrip(" \t\n"), known.after.lstrip()
    style, command = held.segment.style, held.segment.command
    if command is not None:
        return before, words_of(text), after
    assert style is not None
    return before, _meaning(style.language, text, held.segment.holes), after
