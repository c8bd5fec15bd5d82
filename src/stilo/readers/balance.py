"""The lines of a text on which a bracket is missing or too many, by how lines are set in.

A brace too many closes a body early, and a parser is at a loss only where that body really ends, far away. What
people see at once is that a closing brace does not stand below the line that its opening one ends.
"""

from __future__ import annotations

from bisect import bisect_left
from collections import Counter
from collections.abc import Sequence
from dataclasses import field
from functools import cached_property
from typing import NamedTuple

from stilo.readers.reader import Stretch
from stilo.readers.views import merged
from stilo.readers.words import BRACKETS, CLOSING, Signs, statement
from stilo.records import dataclass

#: How many brackets may be missing or too many in a text.
MOST_LINES = 4
#: How many odd pairs, and how many brackets without a partner, are looked at for each.
MOST_EACH = 3
#: So many pairs of braces have to be on lines that are set in unlike before that counts as usual.
MOST_ODD = 8
#: Columns that a tab leads to multiples of.
TAB = 8


class Listed(NamedTuple):
    """Signs that are found otherwise than `Words` are."""

    starts: Sequence[int]
    ends: Sequence[int]
    texts: Sequence[bytes]
    bare: bytes


def odd_lines(data: bytes, words: Signs) -> list[Stretch]:
    """The lines without which each bracket of a text has its partner; none if all have, or if that takes more than a
    few lines."""
    left_out: list[Stretch] = []
    found = _Pairs.of(data, words, left_out)
    while found.alone:
        if len(left_out) == MOST_LINES:
            return []
        tried: list[tuple[tuple[int, int], Stretch, _Pairs]] = []
        for line in found.suspects():
            without = _Pairs.of(data, words, [*left_out, line])
            tried.append((without.faults, line, without))
        if not tried:
            return []
        faults, line, without = min(tried, key=lambda one: one[0])
        if faults[0] >= found.faults[0]:
            return []
        left_out.append(line)
        found = without
    lines = merged(left_out)
    stays = sum(end - start for start, end in lines)
    return lines if stays < len(words.bare.strip()) else []


@dataclass
class _Pairs:
    """The brackets of a text without some lines. partner: closing → opening, as numbers of words. alone: those that
    have no partner."""

    data: bytes
    words: Signs
    partner: dict[int, int] = field(default_factory=dict)
    alone: list[int] = field(default_factory=list)

    @classmethod
    def of(cls, data: bytes, words: Signs, left_out: Sequence[Stretch]) -> _Pairs:
        """Pair them."""
        found = cls(data, words)
        gone = set[int]()
        for start, end in left_out:
            gone.update(range(bisect_left(words.starts, start), bisect_left(words.starts, end)))
        stack: list[int] = []
        texts = words.texts
        for number, text in enumerate(texts):
            if text in BRACKETS:
                if number not in gone:
                    stack.append(number)
            elif text in CLOSING and number not in gone:
                if all(BRACKETS[texts[opening]] != text for opening in stack):
                    found.alone.append(number)
                    continue
                while BRACKETS[texts[opening := stack.pop()]] != text:
                    found.alone.append(opening)
                found.partner[number] = opening
        found.alone = sorted([*found.alone, *stack])
        return found

    @cached_property
    def odd(self) -> list[tuple[int, int]]:
        """Closing and opening braces on lines that are not set in alike, as they are elsewhere."""
        shifts: dict[tuple[int, int], int] = {}
        for closing, opening in self.partner.items():
            if self.words.texts[closing] == b"}":
                shift = self._shift(closing, opening)
                if shift is not None:
                    shifts[closing, opening] = shift
        seen = Counter(shifts.values())
        usual = next((shift for shift, times in seen.items() if times > MOST_ODD + 4 * seen[0]), 0)
        return [pair for pair, shift in shifts.items() if shift != usual]

    @property
    def faults(self) -> tuple[int, int]:
        """How many brackets are alone, and how many pairs are odd."""
        return len(self.alone), len(self.odd)

    def suspects(self) -> list[Stretch]:
        """The lines on which a bracket may be missing or too many, and the statements that may lack it."""
        alone = self.alone[:MOST_EACH]
        listed = [word for word in alone if self.words.texts[word] not in (b"{", b"}")]
        odd = self.odd[:MOST_EACH]
        lines = sorted([*alone, *(word for pair in odd for word in pair)])
        found = [self._statement(word) for word in listed]
        found += [self._line(word) for word in lines]
        found += [self._statement(word) for word in [*alone, *(opening for _, opening in odd)]]
        return list(dict.fromkeys(found))

    def _shift(self, closing: int, opening: int) -> int | None:
        """How many columns the line that closes a brace is set in further than the one that opens it. None if the
        brace does not end its line, or is closed there."""
        starts, ends = self.words.starts, self.words.ends
        bare = self.words.bare
        behind = bare.find(b"\n", ends[opening])
        if behind < 0 or behind > starts[closing] or bare[ends[opening]:behind].strip():
            return None
        head = self._head_line(opening)
        return self._margin(self._line(closing)) - self._margin(head)

    def _head_line(self, word: int) -> Stretch:
        """The line on which what stands before a word begins, which may be a list of several lines."""
        line, partner = self._line(word), self.partner
        at = word
        while at >= 0 and self.words.starts[at] >= line[0]:
            if at in partner and self.words.starts[partner[at]] < line[0]:
                at = partner[at]
                line = self._line(at)
            at -= 1
        return line

    def _line(self, word: int) -> Stretch:
        """The line of a word, without the white space at its ends."""
        data, at = self.data, self.words.starts[word]
        start, end = data.rfind(b"\n", 0, at) + 1, data.find(b"\n", at)
        line = data[start:end if end >= 0 else len(data)]
        return start + len(line) - len(line.lstrip()), start + len(line.rstrip())

    def _statement(self, word: int) -> Stretch:
        """The lines of the statement that a word is in."""
        words = self.words
        start, end = statement(words, words.starts[word], len(self.data))
        first = bisect_left(words.starts, start)
        last = bisect_left(words.ends, end)
        return self._line(first)[0], self._line(min(last, len(words.starts) - 1))[1]

    def _margin(self, line: Stretch) -> int:
        """The column in which a line begins."""
        start = self.data.rfind(b"\n", 0, line[0]) + 1
        return len(self.data[start:line[0]].expandtabs(TAB))
