"""Display width: how many columns a text takes (Unicode UAX #11, by wcwidth)."""

from __future__ import annotations


def display_width(text: str) -> int:
    """Columns of a text in a terminal; what has no width of its own counts as none."""
    from wcwidth import wcwidth

    return sum(max(0, wcwidth(character)) for character in text)
