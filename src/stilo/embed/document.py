"""Lays out documents with all the texts in them, and those in these."""

from __future__ import annotations

from dataclasses import replace

from stilo.edits import Edit, apply_edits, composed
from stilo.embed.foreign import Aside, put_aside
from stilo.embed.held import held_texts
from stilo.embed.segments import AnyResult, DocumentResult, Host, LaidOut, Segment
from stilo.errors import Fault, SyntaxFault, UnsafeResult
from stilo.pipeline import run
from stilo.request import Document, Inner, Request
from stilo.result import Unread
from stilo.source import Position, Source
from stilo.verify.check import check_document

#: Texts within texts, at most; what is deeper stays.
MOST_DEPTH = 8


def reformat_document(document: Document, request: Request) -> AnyResult:
    """Lay out a document, and the texts of other languages that its own says it holds.

    Raises what `pipeline.run` raises; a held text that cannot be laid out stays as it is.
    """
    result = run(document, request)
    if request.only_order or request.inner is None or request.depth >= MOST_DEPTH:
        return result
    held = held_texts(result, request.inner, request.columns)
    return result if held is None else reformat_segments(held, request)


def reformat_segments(host: Host, request: Request) -> DocumentResult:
    """Lay out the segments of a document.

    Its line ends and its encoding stay. Raises SyntaxFault, UnreadableSource, UnsafeResult.
    """
    source = host.source
    done: list[LaidOut] = []
    unread: list[Unread] = []
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
            if segment.is_free:
                called = segment.style.language.name if segment.style else host.language.name
                why = f"cannot be read as {called} from line {at.line} on"
                unread.append(Unread(segment.places[0], segment.places[-1].line, why))
                continue
            where = f"in {host.noun} {segment.number}, line {fault.line}"
            raise type(error)(Fault(source.name, *at, f"{where}: {fault.message}")) from error
        done.append(found)
        if text != segment.text or segment.is_moved:
            texts[segment.number] = text
            edits.append(host.edit(segment, text))
    new = apply_edits(source.raw, edits)
    data = check_document(source, new, lambda raw: host.said(raw, {}), host.said(source.raw, texts))
    outer = host.outer
    if outer is None:
        return DocumentResult(source, tuple(done), data, tuple(edits), host.noun)
    whole = composed(outer.source.raw, outer.edits, edits)
    return DocumentResult(
        outer.source,
        tuple(done),
        data,
        tuple(whole),
        host.noun,
        outer,
        (*outer.unread, *unread),
    )


def _lay_out(segment: Segment, host: Host, request: Request) -> tuple[LaidOut, str]:
    """What was found in a segment, and its new text."""
    own = segment.style or Inner(host.language, request.values, request.origins)
    language, name = own.language, host.source.name
    request = replace(
        request,
        values={**own.values, "line-ends": "lf", "charset": "keep"},
        origins=own.origins,
        depth=request.depth + 1,
        columns=segment.columns,
    )
    text = segment.text if segment.text.endswith("\n") else segment.text + "\n"
    aside = Aside({})
    if language.read(text.encode()).has_error:
        text, aside = put_aside(text, language.facts.foreign_lines)
    source = Source.from_text(text, name)
    result = reformat_document(Document(source, language, is_segment=True), request)
    new = aside.restored(result.text)
    if not aside.is_in(new, language.facts.foreign_lines, result.text):
        message = (
            "lines that are not of its language would read differently; the file is left as it was"
        )
        raise UnsafeResult(Fault(name, 1, 1, message))
    if not segment.text.endswith("\n"):
        new = new.removesuffix("\n")
    return LaidOut(segment, aside, result), new
