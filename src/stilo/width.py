"""Display width: how many columns a text takes (Unicode UAX #11, by wcwidth)."""

from __future__ import annotations

import re


#: All but the characters that have a width of one column.
_OTHERS = re.compile(r"[^ -~]")


def display_width(text: str) -> int:
    """Columns of a text in a terminal; what has no width of its own counts as none."""
    if text.isascii() and text.isprintable():
        return len(text)
    from wcwidth import wcswidth, wcwidth

    width = wcswidth(text)  # which knows signs that are made of several characters
    if width >= 0:
        return width
    others = _OTHERS.findall(text)
    return len(text) - len(others) + sum(max(0, wcwidth(character)) for character in others)
