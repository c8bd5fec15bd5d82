"""Conditional text: which lines each view of a source leaves out, so that what is left can be read.

Some languages have lines that are said to a preprocessor (directives), of which some begin, part and end
branches: alternatives of which only one is ever read. A *view* is a source with one branch of each
conditional in it. Every branch that can be read is in one of the views.
"""

from __future__ import annotations

import re
from bisect import bisect_left
from collections.abc import Iterable, Iterator, Mapping, Sequence, Set
from typing import NamedTuple

from stilo.edits import Edit, moved
from stilo.patterns import compiled
from stilo.readers.reader import Stretch
from stilo.records import dataclass

#: How many views a source has at the most. Branches that need more stay as they are.
MOST_VIEWS = 8


class Directive(NamedTuple):
    """A line for the preprocessor: where it begins, at its sign, and ends; what it does."""

    start: int
    end: int
    does: str


@dataclass(frozen=True)
class Directives:
    """What finds directives in a text.

    scan: finds what they may not stand in, as `opaque`, and them, as `line`. begins: how those begin
    that do something: `opens`, `parts`, `ends`. never: how one begins whose branch nothing ever reads.
    asks: finds in one that opens what it asks (`of`); `not` is there if it asks for the opposite.
    are_none: no line is one, so that a text need not be searched.
    """

    scan: re.Pattern[bytes]
    begins: Mapping[str, re.Pattern[bytes]]
    never: re.Pattern[bytes]
    asks: re.Pattern[bytes]
    are_none: bool = False

    @classmethod
    def of(cls, words: Sequence[str], is_ours: bool) -> Directives:
        """By six to eight patterns: comments and texts; any directive; how one begins that opens, parts or ends
        a conditional, and one whose branch is never read; then what one asks, and what can be passed over,
        since none of these begins in it. Raises re.error, ValueError."""
        opaque, line, opens, parts, ends, never = (word.encode() for word in words[:6])
        asks, plain = (word.encode() for word in (*words[6:], *_NOTHING[len(words) - 6:]))
        scan = compiled(
            rb"(?P<plain>%s)|(?P<opaque>%s)|^[ \t]*(?P<line>%s)" % (plain, opaque, line),
            re.DOTALL | re.MULTILINE,
            is_ours,
        )
        asked = compiled(asks, 0, is_ours)
        if not {"of", "not"} <= asked.groupindex.keys():
            raise ValueError(
                "the pattern of what one asks needs the groups (?P<of>…) and (?P<not>…)"
            )
        begins = {"opens": opens, "parts": parts, "ends": ends}
        known = {does: compiled(begin, 0, is_ours) for does, begin in begins.items()}
        return cls(scan, known, compiled(never, 0, is_ours), asked, line == _NOTHING[1].encode())

    def find(self, data: bytes) -> list[Directive]:
        """All directives of a text, in order."""
        if self.are_none:
            return []
        return [
            Directive(start, end, self._does(data, start)) for start, end in self._lines(data, 0)
        ]

    def edited(self, lines: Sequence[Directive], data: bytes, edit: Edit) -> list[Directive] | None:
        """The directives of a text after an edit that is no part of one; None if there are others then.

        lines: those before. data: the new text. Only what stands between two of them is looked at, since each begins
        outside of comments and texts.
        """
        found = [
            line._replace(start=moved(line.start, [edit]), end=moved(line.end, [edit]))
            for line in lines
        ]
        if self.are_none:
            return found
        after = bisect_left([line.start for line in lines], edit.start)
        near = found[max(0, after - 1) : after + 1]
        start = data.rfind(b"\n", 0, near[0].start) + 1 if after else 0
        shown = self._lines(data, start)
        is_same = all(
            next(shown, None) == (line.start, line.end)
                and self._does(data, line.start) == line.does
            for line in near
        )
        if after == len(lines) and next(shown, None) is not None:
            is_same = False
        return found if is_same else None

    def _lines(self, data: bytes, start: int) -> Iterator[Stretch]:
        """Where directives stand, from the beginning of a line on that is within no comment or text."""
        for found in self.scan.finditer(data, start):
            if found.lastgroup == "line":
                yield found.start("line"), found.end()

    def _does(self, data: bytes, start: int) -> str:
        """What the directive does that begins there."""
        found = (does for does, begin in self.begins.items() if begin.match(data, start))
        return next(found, "other")


#: Patterns that find nothing: of what a directive asks, and of what can be passed over.
_NOTHING = (r"(?!)(?P<not>)(?P<of>)", r"(?!)")


class Branch(NamedTuple):
    """The lines between two directives of a conditional. within: the branch around, or -1.

    conditional: number of the conditional, in the order in which they begin. asked: what it asks; holds:
    whether that is true where the branch is read.
    """

    start: int
    end: int
    conditional: int
    within: int
    is_dead: bool
    asked: bytes
    holds: bool


def conditionals(lines: Sequence[Directive]) -> list[list[Directive]]:
    """The directives of each conditional that is closed: what opens it, parts its branches, and ends it."""
    found: list[list[Directive]] = []
    stack: list[list[Directive]] = []
    for line in lines:
        if line.does == "opens":
            stack.append([line])
        elif line.does != "other" and stack:
            stack[-1].append(line)
            if line.does == "ends":
                found.append(stack.pop())
    return found


def branches(data: bytes, lines: Sequence[Directive], directives: Directives) -> list[Branch]:
    """The branches of all conditionals that are closed, in the order in which they begin.

    lines: those that `directives` found.
    """
    found: list[Branch] = []
    stack: list[tuple[int, int]] = []  # conditionals that are open, with the branch that is
    count = 0

    def begin(directive: Directive, conditional: int, asked: bytes, holds: bool) -> None:
        within = stack[-1][1] if stack else -1
        is_dead = directives.never.match(data, directive.start) is not None
        start = _after_line(data, directive.end)
        found.append(Branch(start, -1, conditional, within, is_dead, asked, holds))
        stack.append((conditional, len(found) - 1))

    def end(directive: Directive) -> Branch:
        _, number = stack.pop()
        found[number] = found[number]._replace(end=_line_start(data, directive.start))
        return found[number]

    first_of: dict[int, Branch] = {}
    for directive in lines:
        if directive.does == "opens":
            asks = directives.asks.match(data, directive.start, directive.end)
            asked = b"".join(asks["of"].split()) if asks is not None else b""
            begin(directive, count, asked, asks is None or asks["not"] is None)
            first_of[count] = found[-1]
            count += 1
        elif directive.does != "other" and stack:
            conditional = end(directive).conditional
            if directive.does == "parts":
                first = first_of[conditional]
                begin(directive, conditional, first.asked, not first.holds)
    open_ones = {conditional for conditional, _ in stack}
    kept = [n for n, branch in enumerate(found) if branch.conditional not in open_ones]
    number_of = {number: at for at, number in enumerate(kept)}
    return [found[n]._replace(within=number_of.get(found[n].within, -1)) for n in kept]


def views(all_branches: Sequence[Branch]) -> list[list[Stretch]]:
    """The stretches that each view leaves out, outermost ones only, in order.

    The first view has the first branch of each conditional; each further one has the first branches that
    no view had before, wherever they can be had together. There, conditionals that ask the same are answered
    alike: a brace that one of them opens is closed by another.
    """
    missing = {number for number, branch in enumerate(all_branches) if not branch.is_dead}
    active, left_out = _view(all_branches, missing, {})
    found = [left_out]
    missing -= active
    while missing and len(found) < MOST_VIEWS:
        answers: dict[bytes, bool] = {}
        for number in sorted(missing):
            while number >= 0:
                branch = all_branches[number]
                if branch.asked:
                    answers.setdefault(branch.asked, branch.holds)
                number = branch.within
        active, left_out = _view(all_branches, missing, answers)
        if missing.isdisjoint(active):
            active, left_out = _view(all_branches, missing, {})
            if missing.isdisjoint(active):
                break
        missing -= active
        found.append(left_out)
    return found


def _view(
    all_branches: Sequence[Branch], missing: Set[int], answers: Mapping[bytes, bool]
) -> tuple[set[int], list[Stretch]]:
    """The branches that are in a view, by number, and the stretches that it leaves out.

    missing: the branches that no view has yet. answers: whether what conditionals ask is true.
    """
    lacking = set(missing)  # and those around, with which they come into view
    for number in reversed(range(len(all_branches))):
        if number in lacking:
            lacking.add(all_branches[number].within)
    chosen: dict[int, int] = {}
    for number, branch in enumerate(all_branches):
        if branch.is_dead or answers.get(branch.asked, branch.holds) != branch.holds:
            continue
        had = chosen.get(branch.conditional)
        if had is None or (number in lacking and had not in lacking):
            chosen[branch.conditional] = number
    active = {-1}
    left_out: list[Stretch] = []
    for number, branch in enumerate(all_branches):
        if branch.within not in active:
            continue
        if chosen.get(branch.conditional) == number:
            active.add(number)
        elif branch.start < branch.end:
            left_out.append((branch.start, branch.end))
    return active, left_out


def _line_start(data: bytes, offset: int) -> int:
    return data.rfind(b"\n", 0, offset) + 1


def _after_line(data: bytes, offset: int) -> int:
    at = data.find(b"\n", offset)
    return len(data) if at < 0 else at + 1


def merged(stretches: Iterable[Stretch]) -> list[Stretch]:
    """Stretches in order, those that overlap or touch as one."""
    found: list[Stretch] = []
    for start, end in sorted(stretches):
        if found and start <= found[-1][1]:
            found[-1] = found[-1][0], max(end, found[-1][1])
        else:
            found.append((start, end))
    return found
