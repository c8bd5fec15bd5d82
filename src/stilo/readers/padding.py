"""Lines within brackets, set further in for the parser alone.

Where line ends have meaning, they and the indents after them have none within brackets. A grammar may
know that only as long as no such line begins left of the block around it. A text that it refuses is read
once more with spaces put in at the beginning of these lines; the places in the tree are those of the text
without them.
"""

from __future__ import annotations

import re
from bisect import bisect_right
from collections.abc import Sequence
from dataclasses import replace
from typing import NamedTuple

from stilo.patterns import compiled
from stilo.records import dataclass
from stilo.tree.flat import Tree

#: No line is set further in than this, however far in the others stand.
MOST = 400
#: Columns that grammars take a tab for at the most, wherever it stands.
TAB = 8


@dataclass(frozen=True)
class Padding:
    """Where spaces were put into a text: offsets in the padded text at which a piece of the original goes
    on, and how many spaces stand before it in all."""

    starts: list[int]
    before: list[int]

    def original(self, offset: int) -> int:
        """Where an offset of the padded text is in the original, if it is not among the spaces."""
        at = bisect_right(self.starts, offset) - 1
        return offset - self.before[at] if at >= 0 else offset

    def taken_out(self, tree: Tree, data: bytes) -> Tree:
        """A tree of the padded text as one of the original."""
        return replace(
            tree,
            data=data,
            token_start=[self.original(start) for start in tree.token_start],
            token_end=[self.original(end - 1) + 1 for end in tree.token_end],
        )


class FreeLines(NamedTuple):
    """What finds lines within brackets: a pattern of all that has to be looked at, and the brackets."""

    scan: re.Pattern[bytes]
    opening: frozenset[bytes]
    closing: frozenset[bytes]

    @classmethod
    def of(cls, opaque: str, pairs: Sequence[str], is_ours: bool) -> FreeLines:
        """By a pattern of texts and comments, in which brackets do not count, and all brackets in pairs.

        Raises re.error.
        """
        opening, closing = (frozenset(s.encode() for s in pairs[at::2]) for at in (0, 1))
        signs = b"|".join(re.escape(sign) for sign in sorted(opening | closing))
        blanks = rb"\n[ \t\f]*(?=(?P<end>\n?))"
        whole = b"(?P<opaque>" + opaque.encode() + b")|" + b"|".join(filter(None, [blanks, signs]))
        return cls(compiled(whole, re.DOTALL, is_ours), opening, closing)


def line_ends(data: bytes, lines: FreeLines) -> list[int]:
    """Where the lines end that stand in no brackets and are not joined with the next, as offsets."""
    found, depth = [], 0
    for match in lines.scan.finditer(data):
        text = match.group()
        if match["opaque"] is not None:
            continue
        if text in lines.opening:
            depth += 1
        elif text in lines.closing:
            depth = max(0, depth - 1)
        elif not depth and data[match.start() - 1 : match.start()] != b"\\":
            found.append(match.start())
    return found


def padded(data: bytes, lines: FreeLines) -> tuple[bytes, Padding] | None:
    """The text with the lines within brackets set further in; None if there are none."""
    scan, opening, closing = lines
    margins = re.findall(rb"(?m)^[ \t\f]+", data)
    widest = max((len(margin) + (TAB - 1) * margin.count(b"\t") for margin in margins), default=0)
    blanks = b" " * min(MOST, widest + 1)
    pieces: list[bytes] = []
    starts: list[int] = []
    before: list[int] = []
    depth = at = 0
    for found in scan.finditer(data):
        text = found.group()
        if found["opaque"] is not None:
            continue
        if text in opening:
            depth += 1
        elif text in closing:
            depth = max(0, depth - 1)
        elif depth and not found["end"]:
            pieces += [data[at:found.end()], blanks]
            at = found.end()
            before.append(len(blanks) * (len(before) + 1))
            starts.append(at + before[-1])
    if not starts:
        return None
    return b"".join([*pieces, data[at:]]), Padding(starts, before)
