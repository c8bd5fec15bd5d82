"""Lays out documents with all the texts in them, and those in these."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from stilo.edits import Edit, apply_edits, composed, moved_back
from stilo.embed.foreign import Aside, holes_aside, put_aside
from stilo.embed.held import held_texts
from stilo.embed.segments import AnyResult, DocumentResult, Host, LaidOut, Segment
from stilo.errors import CommandFailed, Fault, SyntaxFault, UnsafeResult
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
    result, is_opened = _with_texts(document, request)
    if not is_opened or request.lines is not None:
        return result
    # What stands around texts that have lines of their own now may stand otherwise.
    assert isinstance(result, DocumentResult)
    source = document.source
    edits = _in_source(result)
    opened = Source.from_bytes(apply_edits(source.raw, edits), source.name, source.charset)
    again, _ = _with_texts(replace(document, source=opened, parsed=None), request)
    if again.data == result.data:
        return result
    whole = composed(source.raw, edits, again.edits)
    return replace(result, data=again.data, edits=tuple(whole))


def _in_source(result: DocumentResult) -> Sequence[Edit]:
    """The edits of the texts in a document, as edits of its source; all that was edited, where that cannot be told."""
    assert result.outer is not None
    found: list[Edit] = []
    for edit in result.inner_edits:
        # Edits may end before it, and begin after it: its own first and last character tell where it is.
        first, last = (moved_back(at, result.outer.edits) for at in (edit.start + 1, edit.end - 1))
        if first is None or last is None:
            return result.edits
        found.append(Edit(first - 1, last + 1, edit.text))
    return found


def _with_texts(document: Document, request: Request) -> tuple[AnyResult, bool]:
    """A document laid out with the texts in it, and whether texts got lines of their own."""
    result = run(document, request)
    if request.only_order or request.inner is None or request.depth >= MOST_DEPTH:
        return result, False
    held = held_texts(result, request.inner, request.columns)
    if held is None:
        return result, False
    return reformat_segments(held, request, held.unread), held.is_opened


def reformat_segments(
    host: Host, request: Request, unread: Sequence[Unread] = ()
) -> DocumentResult:
    """Lay out the segments of a document.

    Its line ends and its encoding stay. unread: what else in it stays as it is. Raises SyntaxFault,
    UnreadableSource, UnsafeResult.
    """
    source, outer = host.source, host.outer
    done: list[LaidOut] = []
    stays = list(unread)
    edits: list[Edit] = []
    texts: dict[int, str] = {}
    for segment in host.segments():
        lines = segment.lines_within(request.lines)
        if lines == [] or not segment.text.strip():
            continue
        try:
            found, text = _lay_out(segment, host, replace(request, lines=lines))
        except CommandFailed as error:
            stays.append(_kept(segment, f"cannot be laid out: {error}"))
            continue
        except (SyntaxFault, UnsafeResult) as error:
            fault = error.fault
            at = segment.place(Position(fault.line, fault.column))
            if segment.is_free:
                called = segment.style.language.name if segment.style else host.language.name
                why = f"cannot be read as {called} from line {at.line} on"
                stays.append(_kept(segment, why))
                continue
            where = f"in {host.noun} {segment.number}, line {fault.line}"
            raise type(error)(Fault(source.name, *at, f"{where}: {fault.message}")) from error
        if text != segment.text or segment.reason is not None:
            edit = host.edit(segment, text)
            texts[segment.number] = text
            edits.append(edit)
            found = replace(found, is_moved=source.raw[edit.start:edit.end] != edit.text)
        done.append(found)
    if outer is not None and not edits:
        return DocumentResult(
            outer.source,
            tuple(done),
            outer.data,
            outer.edits,
            host.noun,
            outer,
            (*outer.unread, *stays)
        )
    new = apply_edits(source.raw, edits)
    data = check_document(source, new, lambda raw: host.said(raw, {}), host.said(source.raw, texts))
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
        (*outer.unread, *stays),
        tuple(edits),
    )


def _kept(segment: Segment, why: str) -> Unread:
    return Unread(segment.places[0], segment.places[-1].line, why)


def _lay_out(segment: Segment, host: Host, request: Request) -> tuple[LaidOut, str]:
    """What was found in a segment, and its new text. Raises CommandFailed, too."""
    text, holes = holes_aside(segment.text, segment.holes)
    if segment.command is not None:
        new = segment.command.lay_out(text, segment.width)
        return LaidOut(segment, holes, None), new
    own = segment.style or Inner(host.language, request.values, request.origins)
    language, name = own.language, host.source.name
    request = replace(
        request,
        values={**own.values, "line-ends": "lf", "charset": "keep"},
        origins=own.origins,
        depth=request.depth + 1,
        columns=segment.columns,
    )
    text = text if text.endswith("\n") else text + "\n"
    lines = Aside({})
    if not holes.said and language.read(text.encode()).has_error:
        text, lines = put_aside(text, language.facts.foreign_lines)
    result = reformat_document(
        Document(Source.from_text(text, name), language, is_segment=True), request
    )
    new = holes.restored(lines.restored(result.text))
    is_same = lines.is_in(new, language.facts.foreign_lines, result.text)
    if holes.said:
        is_same = holes_aside(new, segment.holes)[0] == result.text
    if not is_same:
        message = (
            "lines that are not of its language would read differently; the file is left as it was"
        )
        raise UnsafeResult(Fault(name, 1, 1, message))
    if not segment.text.endswith("\n"):
        new = new.removesuffix("\n")
    return LaidOut(segment, holes if holes.said else lines, result), new
