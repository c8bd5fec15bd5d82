"""What is answered to an editor: edits of a text as it has it. No protocol is known here.

A text with syntax errors is laid out as far as it can be read.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import NamedTuple

from stilo.calls import reformat_styled
from stilo.edits import Edit, apply_edits
from stilo.errors import SyntaxFault
from stilo.explain.findings import Finding
from stilo.part import edits_since, part_edits, sound_edits
from stilo.readers import Parsed
from stilo.result import Result
from stilo.serve.documents import Settled, Snapshot
from stilo.source import LineRange, Source
from stilo.style.resolve import FileStyle

PREFER = "import.prefer"


def whole(
    text: Snapshot, style: FileStyle, parsed: Parsed, settled: Settled | None = None
) -> tuple[Sequence[Edit], Settled | None]:
    """The edits that lay out a text, and what it is then.

    parsed: the text as it was read. settled: what the text was when it was last in style; if the style is the same, what changed since is
    enough. A text of which some cannot be read is not in style, since that may be read yet. Raises StiloError.
    """
    source = text.source
    if settled is not None and settled.style.values == style.values:
        try:
            edits = edits_since(source, settled.source, style, parsed)
        except SyntaxFault:
            return sound_edits(source, style, parsed=parsed), settled
        if edits is not None:
            return edits, _settled(source, edits, style)
    try:
        result = reformat_styled(text.raw.decode(), style, name=text.path)
    except SyntaxFault:
        return sound_edits(source, style, parsed=parsed), settled
    return result.edits, _settled(source, result.edits, style)


def _settled(source: Source, edits: Sequence[Edit], style: FileStyle) -> Settled:
    if not edits:
        return Settled(source, style)
    return Settled(Source.from_bytes(apply_edits(source.raw, edits), source.name), style)


def lines(
    text: Snapshot, style: FileStyle, within: Sequence[LineRange], parsed: Parsed | None = None
) -> Sequence[Edit]:
    """The edits that lay out the statements that reach into some lines. Raises StiloError."""
    try:
        if len(within) == 1:
            return part_edits(text.source, style, within[0], parsed)
        return reformat_styled(text.raw.decode(), style, lines=within, name=text.path).edits
    except SyntaxFault:
        return sound_edits(text.source, style, within, parsed)


def typed(
    text: Snapshot, style: FileStyle, parsed: Parsed, cursor: int, sign: str
) -> Sequence[Edit]:
    """The edits that lay out what a sign just ended before the cursor: a statement or a block.

    parsed: the text as it was read. cursor: its byte offset. Nothing after what was ended is edited; nothing at all is where it cannot be
    read. Raises StiloError.
    """
    raw, source = text.raw, text.source
    if source.has_crlf and source.has_mixed_ends:
        return ()
    end = cursor
    if sign == "\n":
        line = raw.rfind(b"\n", 0, cursor) + 1
        before = raw[:line]
        end = len(before.rstrip())
        if raw[line:cursor].strip() or before[end:].count(b"\n") != 1:
            return ()
    at = end - (raw[:end].count(b"\r\n") if source.has_crlf else 0)
    if not at:
        return ()
    line = source.position(at - 1).line
    within = (line, line)
    if sign == "}":
        bodies = parsed.bodies(at - 1, at, style.language.body_kinds)
        ended = [i for body in bodies for i in body.items if i.end == at and i.end - i.start > 1]
        if not ended:
            return ()
        within = (source.position(ended[-1].start).line, line)
    try:
        edits = part_edits(source, style, within, parsed, ends_at=at)
    except SyntaxFault:
        return ()
    return [edit for edit in edits if edit.end <= end]


class Imports(NamedTuple):
    """What puts imports in order, and for each name that may be several: it, and the modules it may be of."""

    edits: Sequence[Edit]
    choices: Sequence[tuple[str, Sequence[str]]]


def imports(text: Snapshot, style: FileStyle, meant: str | None = None) -> Imports:
    """The edits that put the imports of a text in order. meant: what a name stands for. Raises StiloError."""
    if meant is not None:
        known = str(style.values[PREFER])
        said = f"{known} | {meant}" if known else meant
        style = replace(style, values={**style.values, PREFER: said})
    result = reformat_styled(text.raw.decode(), style, name=text.path, only_order=True)
    choices = [(star.name, star.candidates) for star in getattr(result, "open_stars", ())]
    return Imports(result.edits, choices)


def findings(text: Snapshot, style: FileStyle) -> Sequence[Finding]:
    """What in a text is not in style; nothing of one that cannot be read. Raises StiloError."""
    try:
        return reformat_styled(text.raw.decode(), style, name=text.path).findings
    except SyntaxFault:
        return ()


def explained(text: Snapshot, style: FileStyle, offset: int) -> list[str] | None:
    """What decided the white space at a place, or that before the first token of its line: a line each.

    None elsewhere. Raises StiloError.
    """
    raw = text.raw
    start = raw.rfind(b"\n", 0, offset) + 1
    end = raw.find(b"\n", offset)
    line = raw[start:end if end >= 0 else len(raw)]
    if not line.strip():
        return None
    within = offset - start
    is_gap = line[within : within + 1].isspace() and line[within:].strip() != b""
    first = len(line) - len(line.lstrip())
    word = line[first:].split(None, 1)[0]
    if not (is_gap or within < first + len(word)):
        return None
    if is_gap:
        within += len(line[within:]) - len(line[within:].lstrip())
    else:
        within = first
    try:
        result = reformat_styled(raw.decode(), style, name=text.path)
    except SyntaxFault:
        return None
    if not isinstance(result, Result):
        return None
    decision = result.decision(text.line(offset), len(line[:within].decode()) + 1)
    said = [f"between {decision.before} and {decision.after}: {decision.outcome}"]
    said.append(f"because {decision.because}")
    said += [f"decided by {reason}" for reason in decision.reasons]
    return said
