"""Places in a text as editors count them: lines from 0, and units of an encoding in a line.

Source: Language Server Protocol 3.17, "Position" and "Text Documents". A line ends with a line feed, a
carriage return, or both; a place beyond the end of a line is its end.
"""

from __future__ import annotations

from bisect import bisect_right
from functools import cached_property
from itertools import accumulate
from typing import Any, NamedTuple


class Place(NamedTuple):
    """A line, from 0, and how many units stand before the place in it."""

    line: int
    character: int

    @classmethod
    def of(cls, told: Any) -> Place:
        """A place as an editor tells it: whatever has a line and a character."""
        return cls(told.line, told.character)


class Places:
    """Turns byte offsets of a text (UTF-8) into places, and back.

    encoding: `utf-8`, `utf-16` or `utf-32`, in whose units a line is counted.
    """

    def __init__(self, raw: bytes, encoding: str) -> None:
        self._raw = raw
        self._encoding = encoding

    @cached_property
    def _starts(self) -> list[int]:
        starts = [0, *accumulate(map(len, self._raw.splitlines(keepends=True)))]
        if self._raw[-1:] not in (b"", b"\n", b"\r"):
            starts.pop()  # the last line has no end
        return starts

    def _end(self, line: int) -> int:
        """Where a line ends, before its line end."""
        if line + 1 == len(self._starts):
            return len(self._raw)
        end = self._starts[line + 1]
        return end - (2 if self._raw[end - 2 : end] == b"\r\n" else 1)

    def offset(self, place: Place) -> int:
        """The byte offset of a place; the nearest there is, if there is no such place."""
        if place.line >= len(self._starts):
            return len(self._raw)
        start, end = self._starts[place.line], self._end(place.line)
        text, count = self._raw[start:end], max(0, place.character)
        if self._encoding == "utf-8" or text.isascii():
            at = min(start + count, end)
            while start < at < end and self._raw[at] & 0xC0 == 0x80:  # within a character
                at -= 1
            return at
        if self._encoding == "utf-16":
            units = text.decode().encode("utf-16-le")[:2 * count]
            return start + len(units.decode("utf-16-le", "ignore").encode())
        return start + len(text.decode()[:count].encode())

    def place(self, offset: int) -> Place:
        """The place of a byte offset that begins a character."""
        line = bisect_right(self._starts, offset) - 1
        start = self._starts[line]
        text = self._raw[start:min(offset, self._end(line))]
        return Place(line, units(text, self._encoding))


def units(text: bytes, encoding: str) -> int:
    """How many units of an encoding a text has."""
    if encoding == "utf-8" or text.isascii():
        return len(text)
    return (
        len(text.decode()) if encoding == "utf-32" else len(text.decode().encode("utf-16-le")) // 2
    )
