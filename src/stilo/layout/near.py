"""Which items of a body have a say in the layout of some of them: those that stand near."""

from __future__ import annotations

import re
from collections.abc import Callable, Set

BLANK_LINE = re.compile(rb"\n[ \t\f\r]*\n")


def near(
    wanted: Set[int], count: int, is_code: Callable[[int], bool], is_parted: Callable[[int], bool]
) -> set[int]:
    """The numbers of the items that have a say in the layout of those wanted, of so many.

    Those beside them as far as no blank line parts them, since columns go through these; and one with code more on
    each side, with the comments on the way, since blank lines go by what stands beside them. is_parted: whether a
    blank line stands before an item.
    """
    found = set(wanted)
    for number in wanted:
        for step in (-1, 1):
            at, is_beside = number, True
            while 0 <= at + step < count and at + step not in wanted:
                is_beside = is_beside and not is_parted(max(at, at + step))
                at += step
                found.add(at)
                if not is_beside and is_code(at):
                    break
    return found
