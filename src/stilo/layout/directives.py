"""White space within lines for another program: before what they define, and before signs that join lines.

Only as much as stands there is changed, never whether some does: to such a program that can make a
difference.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence

from stilo.layout.comments import is_directive
from stilo.layout.edits import EditKind, TokenEdit
from stilo.layout.fit import Fitted
from stilo.layout.plan import Plan
from stilo.patterns import compiled
from stilo.records import dataclass
from stilo.sheet.cascade import Declared
from stilo.width import display_width


def respaced(
    plan: Plan, fitted: Fitted, gaps: Sequence[bytes], tokens: list[bytes], width: int, tab: int
) -> list[TokenEdit]:
    """Set values and joining signs of directives in columns, in place, or one space away. Returns the edits.

    gaps, tokens: as they are written. tab: columns that a tab takes in the source.
    """
    work = _Directives(plan, fitted, gaps, tokens, width, tab)
    return [*work.values(), *work.joins()]


def same_directive(before: bytes, after: bytes, sign: bytes) -> bool:
    """Whether two texts are the same but for how much white space stands between words, and before a
    sign that joins lines."""
    if before == after:
        return True
    joined = [text.replace(sign + b"\n", b"") if sign else text for text in (before, after)]
    return joined[0].split() == joined[1].split() and _solid(before) == _solid(after)


def _solid(text: bytes) -> list[bytes]:
    """What stands in each line without white space."""
    return [b"".join(line.split()) for line in text.split(b"\n")]


@dataclass(frozen=True)
class _Directives:
    """The directives of a plan. The rest as given to `respaced`."""

    plan: Plan
    fitted: Fitted
    gaps: Sequence[bytes]
    tokens: list[bytes]
    width: int
    tab: int

    def values(self) -> Iterator[TokenEdit]:
        """Set what directives define in columns, run by run."""
        for run in self._runs():
            declared = self._declared(run[0], "value-column")
            pattern = compiled(str(self._declared(run[0], "value-gap").value).encode())
            pieces = [self._parts(token, pattern) for token in run]
            ends = [self._columns(head) + 1 for head, _ in pieces]
            column = max(ends)
            if declared.value == "yes":
                margin = self.fitted.breaks.get(run[0], 0)
                passes = any(
                    margin + column + self._columns(rest.partition(b"\n")[0]) > self.width
                    for (_, rest), end in zip(pieces, ends)
                    if end < column
                )
                if not passes:
                    ends = [end - column for end in ends]  # how far each is from the column, below 0
            for token, (head, rest), end in zip(run, pieces, ends):
                yield from self._edit(token, head + b" " * (1 - min(end, 0)) + rest, declared)

    def joins(self) -> Iterator[TokenEdit]:
        """Set the signs at the ends of joined lines in a column, or one space after the text."""
        for token in self._asked("join-column"):
            declared = self._declared(token, "join-column")
            sign = str(self._declared(token, "line-join").value).encode()
            lines = self.tokens[token].split(b"\n")
            margin = self.fitted.breaks.get(token, 0)
            ends: dict[int, int] = {}  # line → where its text ends, of those whose sign may move
            for at, (line, after) in enumerate(zip(lines, lines[1:])):
                body = line.removesuffix(sign)
                if body != line and (body[-1:].isspace() or after[:1].isspace()):
                    lines[at] = body.rstrip()
                    ends[at] = self._columns(lines[at]) + (0 if at else margin)
            column = max((end for end in ends.values() if end < self.width - 1), default=0) + 1
            for at, end in ends.items():
                spaces = column - end if declared.value == "yes" else 1
                lines[at] += b" " * max(1, spaces) + sign
            yield from self._edit(token, b"\n".join(lines), declared)

    def _asked(self, name: str) -> Iterator[int]:
        """The directives for which a property says something else than that all stays."""
        for token in self.plan.comments:
            if is_directive(self.plan, token) and self._declared(token, name).value != "keep":
                yield token

    def _runs(self) -> Iterator[list[int]]:
        """Directives with a value, of which each stands on the line after the one before."""
        run: list[int] = []
        breaks = self.fitted.breaks
        for token in self._asked("value-column"):
            pattern = compiled(str(self._declared(token, "value-gap").value).encode())
            if pattern.search(self.tokens[token]) is None:
                continue
            follows = (
                bool(run)
                and run[-1] == token - 1
                and self.gaps[token].count(b"\n") == 1
                and breaks.get(run[-1], 0) == breaks.get(token, 0)
                and b"\n" not in self.tokens[run[-1]]
            )
            if run and not follows:
                yield run
                run = []
            run.append(token)
        if run:
            yield run

    def _parts(self, token: int, pattern: re.Pattern[bytes]) -> tuple[bytes, bytes]:
        """What stands before and after the last gap, with one space in the gaps before that."""
        text = self.tokens[token]
        found = pattern.search(text)
        assert found is not None
        head = b""
        at = 0
        for number in range(1, pattern.groups):
            start, end = found.span(number)
            head += text[at:start] + b" "
            at = end
        start, end = found.span(pattern.groups)
        return head + text[at:start], text[end:]

    def _edit(self, token: int, text: bytes, declared: Declared) -> Iterator[TokenEdit]:
        before = self.tokens[token]
        if text != before:
            self.tokens[token] = text
            yield TokenEdit(token, EditKind.DIRECTIVE, before, text, declared)

    def _columns(self, text: bytes) -> int:
        return display_width(text.expandtabs(self.tab).decode())

    def _declared(self, token: int, name: str) -> Declared:
        """What is declared for a directive."""
        return self.plan.rows.style[self.plan.row[self.plan.tree.token_node[token]]][name]
