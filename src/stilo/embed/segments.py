"""Documents with segments, each a text of one language that is laid out by itself, and what is found in them."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Protocol, Union

from stilo.edits import Edit
from stilo.embed.foreign import Aside, Holes
from stilo.errors import OutOfRange
from stilo.language import Language
from stilo.request import Command, Inner
from stilo.result import Result, Unread
from stilo.source import LineRange, Position, Source
from stilo.verify.check import Checked

if TYPE_CHECKING:
    from pathlib import Path

    from stilo.explain.decisions import Decision
    from stilo.explain.findings import Finding
    from stilo.explain.reasons import Reason

#: What is found in a text, whether it holds others or not.
AnyResult = Union[Result, "DocumentResult"]


@dataclass(frozen=True)
class Segment:
    """A text within a document.

    number: its place among what the document consists of, from 1.
    places: where each of its lines begins in the document.
    has_lines: whether its lines are lines of the document, too.
    style: its own; without one it has the language and the values of all segments. holes: what in it is the
    document's, not its own. command: what lays it out in place of a style, and width: the columns that are left
    for that. columns: how far in it stands.
    is_free: it may stay as it is where it cannot be laid out. reason: what says where it stands in the document,
    if it may have to stand otherwise there though its text is the same.
    """

    number: int
    text: str
    places: tuple[Position, ...]
    has_lines: bool = True
    style: Inner | None = None
    holes: Holes | None = None
    command: Command | None = None
    width: int = 0
    is_free: bool = False
    columns: int = 0
    reason: Reason | None = None

    def place(self, position: Position) -> Position:
        """Where a position in the segment is in the document."""
        at = self.places[min(position.line, len(self.places)) - 1]
        return Position(at.line, at.column + position.column - 1)

    def lines_within(self, lines: Sequence[LineRange] | None) -> list[LineRange] | None:
        """The lines of the segment that lie in some lines of the document. None stands for all lines."""
        if lines is None:
            return None
        return [
            (number, number)
            for number, at in enumerate(self.places, 1)
            if any(first <= at.line <= last for first, last in lines)
        ]


class Host(Protocol):
    """A document that holds segments."""

    @property
    def source(self) -> Source:
        """The document."""

    @property
    def language(self) -> Language:
        """The language of segments that have none of their own."""

    @property
    def noun(self) -> str:
        """What messages call a segment."""

    @property
    def outer(self) -> Result | None:
        """What was found in the document itself, if that is laid out, too; `source` is what came of it."""

    def segments(self) -> Sequence[Segment]:
        """The segments that may be laid out, in order. Raises UnreadableSource."""

    def edit(self, segment: Segment, text: str) -> Edit:
        """The edit of the document's bytes that gives a segment another text."""

    def said(self, data: bytes, texts: Mapping[int, str]) -> object:
        """All that a document says, so that documents that say the same are equal.

        texts: texts of segments to put in place of those in `data`, by their numbers.
        """


@dataclass(frozen=True)
class LaidOut:
    """A segment, what was put aside in it, and what was found; None of one that a command laid out.

    is_moved: it is to stand otherwise in the document, or as a command has it.
    """

    segment: Segment
    aside: Aside
    result: AnyResult | None
    is_moved: bool = False

    @property
    def findings(self) -> list[Finding]:
        """What is not in style, with the places in the document."""
        segment, result = self.segment, self.result
        if result is not None and result.changed:
            return [
                replace(
                    finding,
                    position=segment.place(finding.position),
                    end=segment.place(finding.end),
                    message=self.aside.restored(finding.message),
                )
                for finding in result.findings
            ]
        if not self.is_moved or segment.reason is None:
            return []
        from stilo.explain.findings import Finding

        message = "the lines of the text should begin elsewhere"
        if segment.command is not None:
            message = f"the command for {segment.command.called} lays the text out otherwise"
        start, last = segment.places[0], segment.places[-1]
        end = Position(last.line, last.column + len(segment.text.rpartition("\n")[2]))
        return [Finding(start, end, "inner-text", message, segment.reason)]


@dataclass(frozen=True, repr=False)
class DocumentResult:
    """What was found in a document with segments: as for `Result`, of all segments together.

    Positions are those of the document. outer: what was found in the document itself, if that is laid out,
    too. unread: the lines that stay as they are, since they cannot be read. inner_edits: those of `outer`'s
    result that lay the segments out.
    """

    source: Source
    segments: tuple[LaidOut, ...]
    data: Checked
    edits: tuple[Edit, ...]
    noun: str
    outer: Result | None = None
    unread: tuple[Unread, ...] = ()
    inner_edits: tuple[Edit, ...] = ()

    def __repr__(self) -> str:
        what = "to be changed" if self.changed else "in style"
        return f"<DocumentResult: {self.source.name}, {len(self.segments)} {self.noun}s, {what}>"

    @property
    def text(self) -> str:
        """The whole result as a string."""
        return self.data.decode().removeprefix("\ufeff")

    @property
    def changed(self) -> bool:
        """Whether the result differs from the source."""
        return self.data != self.source.raw

    @property
    def findings(self) -> tuple[Finding, ...]:
        """What is not in style."""
        found = [
            replace(finding, within=f"{self.noun} {done.segment.number}")
            for done in self.segments
            for finding in done.findings
        ]
        if self.outer is None:
            return tuple(found)
        return tuple(sorted([*self.outer.findings, *found], key=lambda f: f.position))

    @property
    def results(self) -> tuple[Result, ...]:
        """The results of all texts: the document's own, if it is laid out, and those of its segments."""
        own = () if self.outer is None else (self.outer,)
        found = [done.result for done in self.segments if done.result is not None]
        return (*own, *(inner for result in found for inner in result.results))

    @property
    def folders_read(self) -> Mapping[Path, Mapping[str, bool]] | None:
        """No folder, since imports in segments stay where they are. None if settings of several languages
        had a say in the result."""
        return {} if self.outer is None else None

    @property
    def order_counts(self) -> Counter[str]:
        """None: imports in segments stay where they are."""
        return Counter()

    @property
    def has_open_stars(self) -> bool:
        """Never: see `order_counts`."""
        return False

    @property
    def settings_consulted(self) -> frozenset[str]:
        """The settings that some decision in some segment consulted."""
        return frozenset[str]().union(*(result.settings_consulted for result in self.results))

    def decision(self, line: int, column: int | None = None) -> Decision:
        """What decided the gap at a place of the document. Raises OutOfRange."""
        for done in self.segments:
            if done.result is None:
                continue
            for number, at in enumerate(done.segment.places, 1):
                if at.line == line and done.segment.has_lines:
                    if column is not None and column < at.column and self.outer is not None:
                        break  # before the text
                    wanted = None if column is None else max(1, column - at.column + 1)
                    found = done.result.decision(number, wanted)
                    return replace(
                        found,
                        position=done.segment.place(found.position),
                        before=done.aside.restored(found.before),
                        after=done.aside.restored(found.after),
                    )
        if self.outer is not None:
            return self.outer.decision(line, column)
        has = f"name a line of a code {self.noun}"
        raise OutOfRange(self.source.name, f"code in line {line}", has)
