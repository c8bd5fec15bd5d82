"""The edits that lay out some lines of a text, found by its excerpt where that is shorter."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple

from stilo.calls import reformat_styled
from stilo.edits import Edit, apply_edits, difference, moved
from stilo.embed.document import reformat_document
from stilo.errors import SyntaxFault, UnsafeResult
from stilo.layout.plan import MARK
from stilo.order.asked import asks_for_uses, is_wanted
from stilo.part.excerpt import Excerpt, excerpt, kinds_in
from stilo.readers import Body, Item, Parsed, Stretch
from stilo.request import Document, Request
from stilo.result import Result
from stilo.source import BOM, LineRange, Source

if TYPE_CHECKING:
    from stilo.style.resolve import FileStyle

#: A body of no more bytes is taken as a whole.
MOST = 6_000


def part_edits(
    source: Source,
    style: FileStyle,
    lines: LineRange,
    parsed: Parsed | None = None,
    is_rest_in_style: bool = False,
    ends_at: int | None = None,
) -> Sequence[Edit]:
    """The edits that lay out the statements that reach into some lines, as `reformat_styled` finds them.

    lines: first and last, from 1. parsed: the text as it was read, if it was. is_rest_in_style: the lines
    around them are in style, so that nothing is set beside others. ends_at: a place of `source.data`; there
    are no edits unless a statement that is laid out ends there, or one within it that alone is to change. The rest
    of the text may have syntax errors. Raises OutOfRange, and what `reformat_styled` raises.
    """
    source.has_lines([lines])
    found = None
    if not _is_asked_whole(source, style):
        parsed = parsed or style.language.read(source.data)
        found = _by_excerpt(source, style, lines, parsed, is_rest_in_style)
    if found is None:
        whole = reformat_styled(
            source.raw, style, lines=lines, name=source.name, is_rest_in_style=is_rest_in_style
        )
        laid_out = whole.laid_out if isinstance(whole, Result) else ()
        found = _Found(whole.edits, [end for _, end in laid_out])
    if ends_at is None or ends_at in found.ends:
        return found.edits
    parsed = parsed or style.language.read(source.data)
    return found.edits if _are_within(found.edits, source, style, parsed, ends_at) else ()


def _are_within(
    edits: Sequence[Edit], source: Source, style: FileStyle, parsed: Parsed, ends_at: int
) -> bool:
    """Whether no more is edited than a statement that ends at a place, in one that is laid out as a whole."""
    bodies = parsed.bodies(ends_at - 1, ends_at, style.language.body_kinds)
    starts = [item.start for body in bodies for item in body.items if item.end == ends_at]
    if not starts:
        return False
    first, last = source.original(max(starts)), source.original(ends_at)
    return all(first <= edit.end <= last for edit in edits)


class _Found(NamedTuple):
    """Edits of a text, and where the statements end that are laid out."""

    edits: Sequence[Edit]
    ends: Sequence[int]


def _is_asked_whole(source: Source, style: FileStyle) -> bool:
    """Whether more than the lines around a part may have a say in its layout."""
    is_plain = source.charset == "utf-8" and not source.has_mixed_ends
    is_notebook = style.language.facts.is_notebook(style.path)
    return not is_plain or is_notebook or MARK in source.data


def _by_excerpt(
    source: Source, style: FileStyle, lines: LineRange, parsed: Parsed, is_rest_in_style: bool
) -> _Found | None:
    """The edits; None where an excerpt does not tell."""
    language, data = style.language, source.data
    start, end = source.stretch(lines)
    solid = data[start:end].strip()
    if not solid:
        return None
    start = data.index(solid, start)
    part = (start, start + len(solid))
    bodies = parsed.bodies(*part, language.body_kinds)
    has_imports = not language.import_kinds.isdisjoint(kinds_in(bodies, part))
    is_ordered = has_imports and is_wanted(style.values)
    if is_ordered and asks_for_uses(style.values):
        return None
    head = language.import_kinds if is_ordered else frozenset[int]()

    def body_in(item: Item) -> Body | None:
        found = parsed.bodies(item.end - 1, item.end, language.body_kinds)
        inside = [b for b in found if b.items and item.start < b.items[0].start]
        return inside[0] if inside else None

    some = excerpt(data, bodies, part, language.comments, head, body_in, MOST, parsed.together)
    if some is None or len(some.kept) == 1 and not parsed.has_error:
        return None
    read = parsed.part(some.text, some.kept)
    if read is None and not parsed.is_plain:
        return None
    raw = Excerpt(source.raw, [(source.original(a), source.original(b)) for a, b in some.kept])
    first = some.text.count(b"\n", 0, some.place(part[0])) + 1
    within = (first, first + solid.count(b"\n"))
    document = Document(
        Source.from_bytes(raw.text, source.name),
        language,
        Path(style.path) if style.path else None,
        parsed=read,
    )
    request = Request(style.values, (within,), False, style.origins, is_rest_in_style, style.inner)
    try:
        result = reformat_document(document, request)
    except (SyntaxFault, UnsafeResult):
        if read is None:
            raise
        return None  # in the whole, it may be laid out
    if not isinstance(result, Result):
        return None  # with texts of other languages in it
    if read is not None and len(result.unread) > len(read.unread):
        return None
    edits = raw.outward(result.edits)
    if edits is None or any(a < hole < b for a, b in result.laid_out for hole in some.holes):
        return None
    seen = [(some.origin(a), some.origin(b)) for a, b in result.laid_out]
    if not (parsed.is_plain or all(parsed.is_seen(a, b) for a, b in seen)):
        return None
    if edits:
        after = Source.from_bytes(apply_edits(source.raw, edits), source.name)
        place = _moved(source, after, part, edits)
        again = parsed.edited_alike(after.data, [difference(data, after.data)])
        if again is None or _shape(again.bodies(*place, language.body_kinds)) != _shape(bodies):
            return None
    return _Found(edits, [end for _, end in seen])


def _moved(source: Source, after: Source, part: Stretch, edits: Sequence[Edit]) -> Stretch:
    """Where a part is in the text that edits lead to."""
    mark = len(BOM) if after.has_bom else 0
    ends = (moved(source.original(part[0]), edits, True), moved(source.original(part[1]), edits))
    start, end = (len(after.raw[mark:at].replace(b"\r\n", b"\n")) for at in ends)
    return start, end


def _shape(bodies: Sequence[Body]) -> object:
    return [(body.kind, [(item.kind, item.is_broken) for item in body.items]) for body in bodies]
