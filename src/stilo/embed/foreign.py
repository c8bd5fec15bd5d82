"""Lines of a segment that are not of its language: put aside while the rest is laid out around them."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property


@dataclass(frozen=True)
class Aside:
    """What was put aside: the name that stands in its place → the text."""

    said: Mapping[str, str]

    @cached_property
    def _names(self) -> re.Pattern[str]:
        longest_first = sorted(self.said, key=len, reverse=True)
        return re.compile("|".join(longest_first) or "(?!)")

    def restored(self, text: str) -> str:
        """A text with what was put aside back in its place."""
        return self._names.sub(lambda found: self.said[found.group()], text)

    def is_in(self, text: str, lines: re.Pattern[str], wanted: str) -> bool:
        """Whether a text has all of it in lines that are read as such again, and is `wanted` without.

        lines: the pattern by which they were found, with the margin as a group.
        """
        if not self.said:
            return True
        left = iter(self.said)
        return lines.sub(lambda found: found["margin"] + next(left, ""), text) == wanted


def put_aside(text: str, lines: re.Pattern[str]) -> tuple[str, Aside]:
    """The text with a name in place of each such line, as long as that, and what was put aside.

    lines: a pattern with the margin and the rest of a line as groups `margin` and `said`.
    """
    said: dict[str, str] = {}

    def stand_in(found: re.Match[str]) -> str:
        margin, line = found["margin"], found["said"]
        word = f"_{len(said)}_"
        word += "x" * max(6, len(line) - len(word))
        while word in text:
            word += "x"
        said[word] = line
        return margin + word

    return lines.sub(stand_in, text), Aside(said)
