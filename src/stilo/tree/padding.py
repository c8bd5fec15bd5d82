"""Lines within brackets, set further in for the parser alone.

Where line ends have meaning, they and the indents behind them have none within brackets. A grammar may
know that only as long as no such line begins left of the block around it. A text that it refuses is read
once more with blanks put in at the beginning of these lines; the places in the tree are those of the text
without them.
"""

from __future__ import annotations

import re
from bisect import bisect_right
from collections.abc import Mapping
from dataclasses import dataclass, replace

from stilo.tree.flat import Tree

#: No line is set further in than this, however far in the others stand.
MOST = 400
#: Columns that grammars take a tab for at the most.
TAB = 8


@dataclass(frozen=True)
class Padding:
    """Where blanks were put into a text: offsets in the padded text at which a piece of the original goes
    on, and how many blanks stand before it in all."""

    starts: list[int]
    before: list[int]

    def original(self, offset: int) -> int:
        """Where an offset of the padded text is in the original, if it is not among the blanks."""
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


def padded(
    data: bytes, opaque: re.Pattern[bytes], pairs: Mapping[str, str]
) -> tuple[bytes, Padding] | None:
    """The text with the lines within brackets set further in; None if there are none.

    opaque: texts and comments, in which brackets do not count. pairs: opening → closing bracket.
    """
    opening, closing = ({sign.encode() for sign in signs} for signs in (pairs, pairs.values()))
    signs = b"|".join(re.escape(sign) for sign in sorted(opening | closing))
    scan = re.compile(b"(?P<opaque>" + opaque.pattern + rb")|\n[ \t\f]*(?=(?P<end>\n?))|" + signs, opaque.flags)
    margins = re.findall(rb"(?m)^[ \t\f]+", data)
    widest = max((len(margin.expandtabs(TAB)) for margin in margins), default=0)
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
            pieces += [data[at : found.end()], blanks]
            at = found.end()
            before.append(len(blanks) * (len(before) + 1))
            starts.append(at + before[-1])
    if not starts:
        return None
    return b"".join([*pieces, data[at:]]), Padding(starts, before)
