"""The words and brackets of a text, found without a grammar."""

from __future__ import annotations

import re
from bisect import bisect_left
from collections.abc import Sequence
from typing import Protocol

from stilo.edits import blanked
from stilo.readers.reader import Stretch
from stilo.records import dataclass

#: Opening brackets, with those that close them.
BRACKETS = {b"(": b")", b"[": b"]", b"{": b"}"}
CLOSING = frozenset(BRACKETS.values())


class Signs(Protocol):
    """Words, brackets and signs of a text: where each begins, where it ends, and its text. bare: the text with blanks
    in place of its comments."""

    @property
    def starts(self) -> Sequence[int]: ...

    @property
    def ends(self) -> Sequence[int]: ...

    @property
    def texts(self) -> Sequence[bytes]: ...

    @property
    def bare(self) -> bytes: ...


@dataclass(frozen=True)
class Words:
    """The words, brackets and signs between items of a text, comments and texts left out.

    closes, opens: opening → closing bracket, as numbers of words, and back. around: the opening
    bracket around each and around what follows the last, or -1. strays: closing brackets that close
    nothing. bare: the text with blanks in place of its comments.
    """

    starts: list[int]
    ends: list[int]
    texts: list[bytes]
    closes: dict[int, int]
    opens: dict[int, int]
    around: list[int]
    strays: list[int]
    bare: bytes

    def is_balanced(self, low: int, high: int) -> bool:
        """Whether all brackets from one word to another are closed there, and no other is."""
        opening = self.around[low]
        return (
            self.around[high] == opening
            and self.closes.get(opening, high) >= high
            and bisect_left(self.strays, low) == bisect_left(self.strays, high)
        )

    def is_listed(self, word: int) -> bool:
        """Whether a word stands in parentheses or brackets."""
        opening = self.around[word]
        return opening >= 0 and self.texts[opening] != b"{"

    def body_around(self, word: int) -> int:
        """The brace that opens the body around a word, or -1."""
        opening = self.around[word] if word < len(self.texts) else -1
        while opening >= 0 and self.texts[opening] != b"{":
            opening = self.around[opening]
        return opening

    @classmethod
    def of(cls, data: bytes, scan: re.Pattern[bytes]) -> Words:
        """The words of a text. scan: finds them (see `words_pattern`)."""
        starts: list[int] = []
        ends: list[int] = []
        texts: list[bytes] = []
        comments: list[Stretch] = []
        closes: dict[int, int] = {}
        around: list[int] = []
        strays: list[int] = []
        stack = [-1]
        for match in scan.finditer(data):
            start, end = match.span()
            text = match[0]
            if match["opaque"] is not None:
                if not text[:1].isalnum() and text[:1] not in _QUOTES:
                    comments.append((start, end))
                continue
            number = len(starts)
            starts.append(start)
            ends.append(end)
            texts.append(text)
            around.append(stack[-1])
            if text in BRACKETS:
                stack.append(number)
            elif text in CLOSING:
                if len(stack) > 1:
                    closes[stack.pop()] = number
                else:
                    strays.append(number)
        around.append(stack[-1])
        opens = {closing: opening for opening, closing in closes.items()}
        return cls(starts, ends, texts, closes, opens, around, strays, blanked(data, comments))


_QUOTES = (b'"', b"'", b"`")

#: What of a text matters here.
_WORDS = rb"(?P<opaque>%s)|[^\W\d]\w*|[(){}\[\];:,]"


def words_pattern(opaque: bytes) -> bytes:
    """The pattern by which `Words` are found. opaque: finds comments and texts."""
    return _WORDS % opaque


def statement(words: Signs, offset: int, size: int) -> Stretch:
    """From where to where a statement goes, as far as signs tell: (its begin, its end)."""
    at = bisect_left(words.starts, offset)
    before = at - 1
    while before >= 0 and words.texts[before] not in BORDERS:
        before -= 1
    while at < len(words.texts) and words.texts[at] not in BORDERS:
        at += 1
    low = words.ends[before] if before >= 0 else 0
    return low, (words.ends[at] if at < len(words.texts) else size)


#: What a statement ends with, or is parted from the next by.
BORDERS = frozenset((b";", b"{", b"}"))
