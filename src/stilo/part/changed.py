"""Laying out a whole text of which a former state was in style: what changed since is enough."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

from stilo.edits import Edit, difference
from stilo.order.asked import asks_for_uses, is_wanted
from stilo.part.excerpt import kinds_in
from stilo.part.layout import part_edits
from stilo.source import Source

if TYPE_CHECKING:
    from stilo.readers import Parsed
    from stilo.style.resolve import FileStyle

#: A change of more lines is no small one.
MOST_LINES = 200


def edits_since(
    source: Source, settled: Source, style: FileStyle, parsed: Parsed | None = None
) -> Sequence[Edit] | None:
    """The edits that lay out a text, found by what changed since it was in style.

    settled: the text when its whole layout was what it had, in this style. parsed: the text as it was
    read, if it was. Laid out are the lines that differ, with those beside them up to a blank line, and
    one more on each side. None where more may have to be. Raises what `part_edits` raises.
    """
    data, values = source.data, style.values
    is_alike = source.has_crlf == settled.has_crlf and source.has_bom == settled.has_bom
    if not is_alike or source.has_mixed_ends or not source.raw.endswith(b"\n"):
        return None
    if asks_for_uses(values):
        return None
    if data == settled.data:
        return ()
    change = difference(settled.data, data)
    lines = data.split(b"\n")[:-1]
    first, last = (
        min(len(lines) - 1, data.count(b"\n", 0, at))
        for at in (change.start, change.start + len(change.text))
    )
    first, last = _paragraph(lines, first, -1), _paragraph(lines, last, 1)
    if last - first >= MOST_LINES:
        return None
    language = style.language
    parsed = parsed or language.read(data)
    back = difference(data, settled.data)
    if not parsed.is_plain and parsed.edited_alike(settled.data, [back]) is None:
        return None
    start, end = source.stretch((first + 1, last + 1))
    bodies = parsed.bodies(start, end, language.body_kinds)
    if is_wanted(values) and not language.import_kinds.isdisjoint(kinds_in(bodies, (start, end))):
        return None
    return part_edits(source, style, (first + 1, last + 1), parsed, is_rest_in_style=True)


def _paragraph(lines: Sequence[bytes], at: int, step: int) -> int:
    """The number of the line after the blank lines at the end of a paragraph, going up or down from a line.

    Where there is none, the first or last of all.
    """
    end = len(lines) - 1 if step > 0 else 0
    while at != end and lines[at].strip():
        at += step
    while at != end and not lines[at].strip():
        at += step
    return at
