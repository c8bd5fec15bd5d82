"""Edits: what leads from one text to another, piece by piece."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass


@dataclass(frozen=True)
class Edit:
    """Replace `start`..`end` (byte offsets in the original) by `text`."""

    start: int
    end: int
    text: bytes


def apply_edits(raw: bytes, edits: Sequence[Edit]) -> bytes:
    """The text after edits. As everywhere here, these are in order and do not overlap."""
    pieces, at = [], 0
    for edit in edits:
        pieces += [raw[at:edit.start], edit.text]
        at = edit.end
    return b"".join([*pieces, raw[at:]])


def blanked(data: bytes, stretches: Sequence[tuple[int, int]]) -> bytes:
    """The text with spaces in place of some stretches, which are in order and do not overlap. Line ends stay."""
    pieces: list[bytes] = []
    at = 0
    for start, end in stretches:
        pieces += [data[at:start], data[start:end].translate(_BLANK)]
        at = end
    return b"".join([*pieces, data[at:]])


#: Each byte → a space, but for line ends.
_BLANK = bytes(10 if byte == 10 else 32 for byte in range(256))


def difference(before: bytes, after: bytes) -> Edit:
    """The edit that turns one text into another. It leaves out what both begin with, and what both end with."""
    start = _common(before, after)
    behind = _common(before[start:][::-1], after[start:][::-1])
    return Edit(start, len(before) - behind, after[start : len(after) - behind])


def least(raw: bytes, edit: Edit) -> list[Edit]:
    """The edit as several, one for each piece of white space that differs; as it is if anything else differs."""
    old, new = raw[edit.start:edit.end], edit.text
    if old.split() == new.split() == [] or b"".join(old.split()) != b"".join(new.split()):
        return [edit]
    found: list[Edit] = []
    at = behind = 0  # in the old text, and in the new one
    while True:
        end, until = _blank_end(old, at), _blank_end(new, behind)
        if old[at:end] != new[behind:until]:
            found.append(Edit(edit.start + at, edit.start + end, new[behind:until]))
        if end == len(old):
            return found
        at, behind = end + 1, until + 1


def _blank_end(text: bytes, start: int) -> int:
    """The end of the white space at a place of a text; the place itself if there is none."""
    while start < len(text) and text[start] in _BLANKS:
        start += 1
    return start


_BLANKS = b" \t\n\r\f\v"


def _common(one: bytes, other: bytes) -> int:
    """How many bytes two texts have in common at their start."""
    low, high = 0, min(len(one), len(other))
    while low < high:
        middle = (low + high + 1) // 2
        if one[low:middle] == other[low:middle]:
            low = middle
        else:
            high = middle - 1
    return low


def lines_touched(raw: bytes, edits: Sequence[Edit]) -> int:
    """How many lines of a text the edits change. An edit that only puts lines between two others counts as one."""
    count = line = at = 0
    last = -1  # the last of the lines that were counted
    for edit in edits:
        line += raw.count(b"\n", at, edit.start)
        first, at = line, edit.end
        line += raw.count(b"\n", edit.start, edit.end)
        count += line - max(first - 1, last)
        last = line
    return count


def moved(offset: int, edits: Sequence[Edit], to_end: bool = False) -> int:
    """Where an offset of a text is after the edits.

    An offset within a replaced stretch moves to the start of the replacement, or, with `to_end`, to its end.
    """
    shift = 0
    for edit in edits:
        if offset < edit.start or (offset == edit.start and not to_end):
            break
        if offset < edit.end:
            return edit.start + shift + (len(edit.text) if to_end else 0)
        shift += len(edit.text) - (edit.end - edit.start)
    return offset + shift


def moved_back(offset: int, edits: Sequence[Edit]) -> int | None:
    """Where an offset of the new text was before the edits; None within a replacement, or at its end."""
    shift = 0
    for edit in edits:
        begin = edit.start + shift
        if offset < begin:
            break
        if offset <= begin + len(edit.text):
            return None
        shift += len(edit.text) - (edit.end - edit.start)
    return offset - shift


def inverse(raw: bytes, edits: Sequence[Edit]) -> list[Edit]:
    """The edits that undo some edits of a text."""
    found, shift = [], 0
    for edit in edits:
        start = edit.start + shift
        found.append(Edit(start, start + len(edit.text), raw[edit.start:edit.end]))
        shift += len(edit.text) - (edit.end - edit.start)
    return found


def composed(raw: bytes, first: Sequence[Edit], second: Sequence[Edit]) -> list[Edit]:
    """The edits that do at once what `first` does to a text and `second` then does to the result."""
    middle = apply_edits(raw, first)
    spans: list[tuple[int, int]] = [(edit.start, edit.end) for edit in second]
    shift = 0
    for edit in first:
        spans.append((edit.start + shift, edit.start + shift + len(edit.text)))
        shift += len(edit.text) - (edit.end - edit.start)
    clusters: list[list[int]] = []
    for start, end in sorted(spans):
        if clusters and start <= clusters[-1][1]:
            clusters[-1][1] = max(clusters[-1][1], end)
        else:
            clusters.append([start, end])
    back, found = inverse(raw, first), []
    shift = at = place = 0  # each edit lies in one cluster, and these are in order
    for start, end in clusters:
        before = start + shift
        while at < len(back) and back[at].start <= end:
            shift += len(back[at].text) - (back[at].end - back[at].start)
            at += 1
        after = end + shift
        inside = []
        while place < len(second) and second[place].start <= end:
            edit = second[place]
            inside.append(Edit(edit.start - start, edit.end - start, edit.text))
            place += 1
        text = apply_edits(middle[start:end], inside)
        if raw[before:after] != text:
            found.append(Edit(before, after, text))
    return found
