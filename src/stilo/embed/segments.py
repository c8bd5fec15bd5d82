"""A document with segments, each a text of one language that is laid out by itself."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Protocol

from stilo.edits import Edit, apply_edits
from stilo.embed.foreign import Aside, put_aside
from stilo.errors import Fault, OutOfRange, SyntaxFault, UnsafeResult
from stilo.language import Language
from stilo.pipeline import run
from stilo.request import Document, Request
from stilo.source import LineRange, Position, Source
from stilo.verify.check import Checked, check_document

if TYPE_CHECKING:
    from pathlib import Path

    from stilo.explain.decisions import Decision
    from stilo.explain.findings import Finding
    from stilo.result import Result, Unread


@dataclass(frozen=True)
class Segment:
    """A text within a document.

    number: its place among what the document consists of, from 1.
    places: where each of its lines begins in the document.
    has_lines: whether its lines are lines of the document, too.
    """

    number: int
    text: str
    places: tuple[Position, ...]
    has_lines: bool = True

    def place(self, position: Position) -> Position:
        """Where a position in the segment is in the document."""
        at = self.places[min(position.line, len(self.places)) - 1]
        return Position(at.line, at.column + position.column - 1)

    def lines_within(self, lines: Sequence[LineRange] | None) -> list[LineRange] | None:
        """Those of its lines that stand within lines of the document."""
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
        """The language of its segments."""

    @property
    def noun(self) -> str:
        """What messages call a segment."""

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
    """A segment, what was put aside in it, and what was found."""

    segment: Segment
    aside: Aside
    result: Result


@dataclass(frozen=True, repr=False)
class DocumentResult:
    """What was found in a document with segments: as for `Result`, of all segments together.

    Positions are those of the document.
    """

    source: Source
    segments: tuple[LaidOut, ...]
    data: Checked
    edits: tuple[Edit, ...]
    noun: str

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
        """What in the segments is not in style."""
        return tuple(
            replace(
                finding,
                position=done.segment.place(finding.position),
                end=done.segment.place(finding.end),
                message=done.aside.restored(finding.message),
                within=f"{self.noun} {done.segment.number}",
            )
            for done in self.segments
            if done.result.changed
            for finding in done.result.findings
        )

    @property
    def results(self) -> tuple[Result, ...]:
        """The results of its segments."""
        return tuple(done.result for done in self.segments)

    @property
    def folders_read(self) -> Mapping[Path, Mapping[str, bool]]:
        """None: imports in segments stay where they are."""
        return {}

    @property
    def order_counts(self) -> Counter[str]:
        """None: imports in segments stay where they are."""
        return Counter()

    @property
    def unread(self) -> tuple[Unread, ...]:
        """The lines that stay as they are, since they cannot be read."""
        return ()

    @property
    def has_open_stars(self) -> bool:
        """Never: see `order_counts`."""
        return False

    @property
    def settings_consulted(self) -> frozenset[str]:
        """The settings that some decision in some segment consulted."""
        return frozenset[str]().union(*(done.result.settings_consulted for done in self.segments))

    def decision(self, line: int, column: int | None = None) -> Decision:
        """What decided the gap at a place of the document. Raises OutOfRange."""
        for done in self.segments:
            for number, at in enumerate(done.segment.places, 1):
                if at.line == line and done.segment.has_lines:
                    wanted = None if column is None else max(1, column - at.column + 1)
                    found = done.result.decision(number, wanted)
                    return replace(
                        found,
                        position=done.segment.place(found.position),
                        before=done.aside.restored(found.before),
                        after=done.aside.restored(found.after),
                    )
        has = f"name a line of a code {self.noun}"
        raise OutOfRange(self.source.name, f"code in line {line}", has)


def reformat_segments(host: Host, request: Request) -> DocumentResult:
    """Lay out the segments of a document.

    Its line ends and its encoding stay. Raises SyntaxFault, UnreadableSource, UnsafeResult.
    """
    source = host.source
    request = replace(request, values={**request.values, "line-ends": "lf", "charset": "keep"})
    done: list[LaidOut] = []
    edits: list[Edit] = []
    texts: dict[int, str] = {}
    for segment in host.segments():
        lines = segment.lines_within(request.lines)
        if lines == [] or not segment.text.strip():
            continue
        try:
            found, text = _lay_out(segment, host, replace(request, lines=lines))
        except (SyntaxFault, UnsafeResult) as error:
            fault = error.fault
            at = segment.place(Position(fault.line, fault.column))
            where = f"in {host.noun} {segment.number}, line {fault.line}"
            raise type(error)(Fault(source.name, *at, f"{where}: {fault.message}")) from error
        done.append(found)
        if text != segment.text:
            texts[segment.number] = text
            edits.append(host.edit(segment, text))
    new = apply_edits(source.raw, edits)
    data = check_document(source, new, lambda raw: host.said(raw, {}), host.said(source.raw, texts))
    return DocumentResult(source, tuple(done), data, tuple(edits), host.noun)


def _lay_out(segment: Segment, host: Host, request: Request) -> tuple[LaidOut, str]:
    """What was found in a segment, and its new text."""
    language, name = host.language, host.source.name
    text = segment.text if segment.text.endswith("\n") else segment.text + "\n"
    aside = Aside({})
    if language.read(text.encode()).has_error:
        text, aside = put_aside(text, language.facts.foreign_lines)
    source = Source.from_text(text, name)
    result = run(Document(source, language, is_segment=True), request)
    new = aside.restored(result.text)
    if not aside.is_in(new, language.facts.foreign_lines, result.text):
        message = (
            "lines that are not of its language would read differently; the file is left as it was"
        )
        raise UnsafeResult(Fault(name, 1, 1, message))
    if not segment.text.endswith("\n"):
        new = new.removesuffix("\n")
    return LaidOut(segment, aside, result), new
