"""What in a segment is not of its language, whole lines or holes in them: put aside while the rest is laid out
around it."""

from __future__ import annotations

import re
from collections.abc import Mapping
from functools import cached_property

from stilo.records import dataclass


@dataclass(frozen=True)
class Aside:
    """What was put aside: the name that stands in its place → the text."""

    said: Mapping[str, str]

    @cached_property
    def _names(self) -> re.Pattern[str]:
        longest_first = map(re.escape, sorted(self.said, key=len, reverse=True))
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


@dataclass(frozen=True)
class Holes:
    """What in a text is no part of its language. form: what begins and ends the names that stand in its place."""

    pattern: re.Pattern[str]
    form: tuple[str, str] = ("", "")

    def aside(self, text: str) -> tuple[str, Aside]:
        """The text with a name in place of each hole, of which equal ones have the same, and what was put
        aside."""
        begin, end = self.form
        names: dict[str, str] = {}

        def stand_in(found: re.Match[str]) -> str:
            hole = found.group()
            if hole not in names:
                name = f"{begin}h{len(names)}"
                name += "x" * max(1, len(hole) - len(name) - len(end))
                while name in text:
                    name += "x"
                names[hole] = name + end
            return names[hole]

        plain = self.pattern.sub(stand_in, text)
        return plain, Aside({name: hole for hole, name in names.items()})


def holes_aside(text: str, holes: Holes | None) -> tuple[str, Aside]:
    """The text without its holes, if it has any, and what was put aside."""
    return (text, Aside({})) if holes is None else holes.aside(text)
