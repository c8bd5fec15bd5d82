"""Source: a text with its encoding, line ends and line index.

The inside of the program counts byte offsets into `Source.data`, which is
UTF-8 with line feeds only. What a user sees is `line:column`, both 1-based,
the column counted in characters. `Source.original` maps an offset back to the
bytes as they were read.
"""

from __future__ import annotations

import re
from bisect import bisect_left, bisect_right
from collections.abc import Sequence
from functools import cached_property
from itertools import accumulate, count
from operator import add
from typing import NamedTuple

from stilo.errors import OutOfRange, UnreadableSource
from stilo.records import dataclass

BOM = b"\xef\xbb\xbf"
#: Charsets of EditorConfig that are not UTF-8, with the byte-order mark each may have.
OTHER_CHARSETS = {"latin1": b"", "utf-16be": b"\xfe\xff", "utf-16le": b"\xff\xfe"}


#: First and last line, from 1, both included.
LineRange = tuple[int, int]


class Position(NamedTuple):
    """A place as users count it: line and column from 1, columns in characters."""

    line: int
    column: int


@dataclass(frozen=True)
class Source:
    """A text ready for reading.

    name: what messages call it. raw: the bytes as read. data: the same without
    byte-order mark, in UTF-8, with `\\n` for `\\r\\n`, and ending in a line end. charset: how `raw`
    is encoded, `utf-8` or one of OTHER_CHARSETS.
    """

    name: str
    raw: bytes
    data: bytes
    has_bom: bool
    has_crlf: bool
    charset: str = "utf-8"

    @classmethod
    def from_bytes(cls, raw: bytes, name: str = "text", charset: str = "utf-8") -> Source:
        """Decode and check. Raises UnreadableSource for binary data or another encoding."""
        mark = OTHER_CHARSETS.get(charset, BOM)
        has_bom = bool(mark) and raw.startswith(mark)
        data = raw[len(mark):] if has_bom else raw
        if charset in OTHER_CHARSETS:
            try:
                data = data.decode(charset).encode()
            except UnicodeDecodeError as error:
                raise UnreadableSource(name, f"not {charset}: {error.reason}") from error
        else:
            charset = "utf-8"
        nul = data.find(b"\0")
        if nul >= 0:
            raise UnreadableSource(name, f"binary file (NUL byte at offset {nul}); left as it is")
        if not data.isascii():
            try:
                data.decode()
            except UnicodeDecodeError as error:
                line = data.count(b"\n", 0, error.start) + 1
                raise UnreadableSource(
                    name,
                    f"not UTF-8 (byte 0x{data[error.start]:02x} in line {line}); left as it is",
                ) from error
        has_crlf = b"\r" in data and b"\r\n" in data  # one byte is found much quicker than two
        if has_crlf:
            data = data.replace(b"\r\n", b"\n")
        if not data.endswith(b"\n"):
            data += b"\n"
        return cls(name, raw, data, has_bom, has_crlf, charset)

    def encode(self, text: bytes) -> bytes:
        """UTF-8 as this source's charset has it."""
        if self.charset == "utf-8" or (self.charset == "latin1" and text.isascii()):
            return text
        return text.decode().encode(self.charset)

    @classmethod
    def from_text(cls, text: str, name: str = "text") -> Source:
        """A source from a string; same checks as `from_bytes`."""
        return cls.from_bytes(text.encode("utf-8", "surrogatepass"), name)

    @cached_property
    def _line_starts(self) -> list[int]:
        sizes = map(len, self.data.split(b"\n")[:-1])
        return list(map(add, accumulate(sizes, initial=0), count()))

    @cached_property
    def _further(self) -> list[int]:
        """Offsets in `data` of the bytes that do not begin a character."""
        if self.data.isascii():
            return []
        return [m.start() for m in re.finditer(rb"[\x80-\xbf]", self.data)]

    @cached_property
    def _dropped(self) -> list[int]:
        """Offsets in `data` of each line feed that was `\\r\\n` in `raw`."""
        if self.charset == "utf-8":
            skip = len(BOM) if self.has_bom else 0
            return [m.start() - skip - i for i, m in enumerate(re.finditer(rb"\r\n", self.raw))]
        text = self.raw.decode(self.charset)[1 if self.has_bom else 0:].encode()
        return [m.start() - i for i, m in enumerate(re.finditer(rb"\r\n", text))]

    @cached_property
    def _inner(self) -> list[int]:
        """Offsets of the bytes that do not begin a character, and of those that begin a long one."""
        found = self._further
        if self.charset == "latin1":
            return found
        # Four bytes of UTF-8 are two units of UTF-16: one byte less is saved.
        long = {m.start() + 3 for m in re.finditer(rb"[\xf0-\xf7]", self.data)}
        return [offset for offset in found if offset not in long]

    @cached_property
    def line_ends(self) -> list[bytes]:
        """The end of each line as it was read: `\\n` or `\\r\\n`."""
        text = self.raw if self.charset == "utf-8" else self.raw.decode(self.charset).encode()
        return re.findall(rb"\r?\n", text)

    @cached_property
    def has_mixed_ends(self) -> bool:
        """Whether some lines end in CRLF, and others do not."""
        return self.has_crlf and len(set(self.line_ends)) > 1

    @property
    def line_count(self) -> int:
        """Lines in the text; an empty text has none."""
        return len(self._line_starts) - 1 if self.raw else 0

    def line_start(self, line: int) -> int:
        """Offset of the first byte of a line (from 1; one past the last is the end)."""
        return self._line_starts[line - 1]

    def has_lines(self, ranges: Sequence[LineRange]) -> None:
        """See that the text has all these lines. Raises OutOfRange."""
        for first, last in ranges:
            if not 1 <= first <= last <= max(1, self.line_count):
                asked = f"line {first}" if first == last else f"range of lines {first} to {last}"
                raise OutOfRange(self.name, asked, f"it has lines 1 to {self.line_count}")

    def stretch(self, lines: LineRange) -> tuple[int, int]:
        """Where lines that exist start and end in `data`."""
        return self.line_start(lines[0]), self.line_start(lines[1] + 1)

    def takes_lines(self, start: int, end: int) -> bool:
        """Whether a stretch of `data` is whole lines."""
        return self.data[start - 1 : start] in (b"", b"\n") and self.data[end - 1 : end] == b"\n"

    def position(self, offset: int) -> Position:
        """Line and column of a byte offset in `data`."""
        line = bisect_right(self._line_starts, offset)
        start = self._line_starts[line - 1]
        further = self._further
        within = bisect_left(further, offset) - bisect_left(further, start) if further else 0
        return Position(line, offset - start - within + 1)

    def offset(self, position: Position) -> int:
        """Byte offset in `data` of a line and column that exist."""
        start = self._line_starts[position.line - 1]
        end = self._line_starts[position.line]
        offset = wanted = start + position.column - 1
        further = self._further
        while further:  # as many bytes more as stand before it that begin no character
            within = bisect_right(further, offset) - bisect_left(further, start)
            if offset == wanted + within:
                break
            offset = wanted + within
        return min(offset, end)

    def original(self, offset: int) -> int:
        """Offset in `raw` of an offset in `data`."""
        dropped = bisect_left(self._dropped, offset) if self.has_crlf else 0
        if self.charset != "utf-8":
            unit = 1 if self.charset == "latin1" else 2
            offset = (offset - bisect_left(self._inner, offset) + dropped + self.has_bom) * unit
            return min(offset, len(self.raw))
        offset += dropped
        if self.has_bom:
            offset += len(BOM)
        return min(offset, len(self.raw))
