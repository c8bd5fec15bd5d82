"""A look at a text for words that may be read otherwise, since only a preprocessor knows them.

Which readings there are near a fault, and in which order they are worth a try, is told by the words around it.
"""

from __future__ import annotations

import re
from bisect import bisect_left, bisect_right
from collections.abc import Collection, Iterator, Mapping, Sequence, Set
from typing import NamedTuple

import tree_sitter

from stilo.readers.reader import Stretch
from stilo.readers.reading import (
    ARGUMENT, ASIDE, HEAD, ITEM, UNREAD, WRAPPER, WRAPPER_END, Change, Reading, apart, is_new,
    joined, left_out, line_left, together
)
from stilo.readers.words import BORDERS, BRACKETS, CLOSING, Words, statement
from stilo.records import dataclass

#: How many words before and after a fault are thought of.
WORDS_BEFORE = 8
WORDS_AFTER = 6
#: How many words of a statement are looked at, on each side of a fault.
MOST_WORDS = 50
#: How far away, in bytes, what stands beside a word may be.
FAR = 400
#: How many lines may stay as they are around a fault.
MOST_LINES = 2000


class Fault(NamedTuple):
    """Where a parser could not go on: from where to where, and what is missing there, if that is all."""

    start: int
    end: int
    missing: str


def faults_of(root: tree_sitter.Node) -> list[Fault]:
    """All faults in a tree, innermost ones, in order."""
    found: list[Fault] = []
    stack = [root]
    while stack:
        node = stack.pop()
        if node.is_missing:
            found.append(Fault(node.start_byte, node.end_byte, node.type))
            continue
        inner = [c for c in node.children if c.has_error or c.is_missing or c.is_error]
        stack += inner
        if node.is_error and node is not root and not inner:
            found.append(Fault(node.start_byte, node.end_byte, ""))
    return sorted(found)


def statements(faults: Sequence[Fault], words: Words, size: int) -> dict[int, list[Fault]]:
    """Faults by where the statements begin in which they are."""
    found: dict[int, list[Fault]] = {}
    for fault in faults:
        found.setdefault(statement(words, fault.start, size)[0], []).append(fault)
    return found


#: What goes on a statement.
_GOING_ON = frozenset((b"{", b";", b",", b":", b")", b"]", b"["))

CAPITALS = re.compile(rb"_*[A-Z][A-Z0-9_]+")


@dataclass
class Look:
    """A look at a text for words that may be read otherwise.

    keywords, types: words that are none of the preprocessor's. stand_ins: what is read in the place of a head or
    a label. known: words with the names of their readings. root: of the tree with all that is accepted.
    taken: where accepted readings begin.
    """

    data: bytes
    words: Words
    keywords: frozenset[bytes]
    types: frozenset[bytes]
    stand_ins: Mapping[str, bytes]
    known: dict[bytes, str]
    root: tree_sitter.Node
    taken: Collection[int]

    def readings(
        self, low: int, faults: Sequence[Fault], names: Sequence[str]
    ) -> Iterator[Reading]:
        """All readings that may mend the faults of a statement, the likeliest first."""
        words, fault = self.words, faults[0]
        begin = bisect_left(words.starts, low)
        at = bisect_left(words.starts, fault.start)
        _, high = statement(words, faults[-1].end, len(self.data))
        behind = bisect_left(words.starts, high)
        around = range(max(begin, at - MOST_WORDS), min(behind, at + MOST_WORDS))
        whole = [w for w in around if self._is_word(w)]
        near = range(at - WORDS_BEFORE, at + WORDS_AFTER)
        ours = [w for w in whole if self._is_capital(w) or w in near or w == begin]
        ours.sort(key=lambda w: (not self._is_capital(w), w))
        known = [w for w in range(begin, behind) if words.texts[w] in self.known]
        yield from together([r for w in known for r in self._known(w) if is_new(r, self.taken)])
        if "aside" in names:
            heads = list(self._in_heads(begin))
            if len(heads) > 1:
                yield from together(heads)
            yield from heads
        if "typed" in names:
            yield from together([r for w in whole for r in self._typed(w)])
        alone: list[int] = []
        if "ended" in names:
            alone = [w for w in range(begin, behind) if self._is_word(w) and self._is_alone(w)]
            yield from self._endings(alone, begin, behind, names)
        yield from self._near(fault, ours, alone, names)
        if "lines" in names:
            yield from self._lines(low, faults)

    def _endings(
        self, alone: Sequence[int], begin: int, behind: int, names: Sequence[str]
    ) -> Iterator[Reading]:
        """Words that end statements or lines. alone: those that stand alone on a line, of all from one to another."""
        ended = [reading for w in alone for reading in self._ended(w)]
        yield from together(ended)
        if ended and "item" in names and any(map(self._opens, alone)):
            yield joined([r for w in alone for r in self._ended(w, holds_item=self._opens(w))])
        if len(ended) > 1:
            yield from ended
        if alone and self.words.opens.get(behind - 1, -1) >= 0:  # it may be an item of a list in braces
            yield from (r for w in alone for r in self._ended(w, b","))
        said = [w for w in range(begin, behind) if self._is_word(w) and self._is_said(w)]
        yield from together([self._line(w) for w in said])

    def _near(
        self, fault: Fault, ours: Sequence[int], alone: Sequence[int], names: Sequence[str]
    ) -> Iterator[Reading]:
        """Words near a fault, one by one and together: those in capitals, then the others. ours: these words."""
        singles: list[Reading] = []
        capitals = [w for w in ours if self._is_capital(w) and w not in alone]
        yield from self._single(capitals, names, singles)
        capital = [r for r in singles if CAPITALS.match(self.data, r.start)]
        for order in (-1, 1):
            several = apart(sorted(capital, key=lambda r: (r.name != "wrapped", order * r.size)))
            if len(several) > 1:
                yield joined(several)
        if fault.missing and "ended" in names:
            for w in self._before(fault.start):
                if not self._has_body(w):
                    yield from self._ended(w)
        others = [w for w in ours if w not in capitals and w not in alone]
        yield from self._single(others, names, singles)
        wrapped = [r for r in singles if r.name == "wrapped"]
        if wrapped:
            for reading in singles:
                if len(apart([*wrapped, reading])) > len(wrapped):
                    yield joined([*wrapped, reading])
        items = [self._item(w) for w in ours if self._opens(w)]
        if "item" in names and len(items) > 1:
            yield from together(items)

    def _single(
        self, ours: Sequence[int], names: Sequence[str], found: list[Reading]
    ) -> Iterator[Reading]:
        """The readings of one word each. found: gets those that leave something out."""
        for w in ours:
            if "item" in names and self._is_item(w):
                yield self._item(w)
                continue
            several: list[Reading] = []
            if "wrapped" in names and self._is_wrapped(w):
                several.append(self._wrapped(w))
            if "aside" in names:
                several += [reading for reading in self._aside(w) if self._is_stray(reading)]
            found += several
            yield from several
            if "item" in names and self._opens(w) and self._is_capital(w):
                yield self._item(w)
            if "head" in names and self._is_head(w) and self._has_body(w):
                yield self._head(w)
            if "label" in names and self._is_label(w):
                yield self._label(w)

    def _in_heads(self, begin: int) -> Iterator[Reading]:
        """Words in capitals in the heads of the two bodies around a statement, which they may spoil."""
        words, opening = self.words, begin
        for _ in range(2):
            opening = words.body_around(opening)
            if opening < 0:
                return
            low, _ = statement(words, words.starts[opening], len(self.data))
            head = range(bisect_left(words.starts, low), opening)
            for w in head:
                if not (self._is_word(w) and self._is_capital(w)):
                    continue
                found = [r for r in self._aside(w) if self._is_stray(r)][-1:]
                if self._is_alone(w):
                    found = list(self._ended(w))
                yield from (reading for reading in found if is_new(reading, self.taken))

    def _is_word(self, w: int) -> bool:
        text = self.words.texts[w]
        is_name = text[:1].isalpha() or text[:1] == b"_"
        return is_name and text not in self.keywords and text not in self.types

    def _is_capital(self, w: int) -> bool:
        return CAPITALS.fullmatch(self.words.texts[w]) is not None

    def _opens(self, w: int) -> bool:
        """Whether a parenthesis that is closed stands behind a word."""
        return w + 1 in self.words.closes and self.words.texts[w + 1] == b"("

    def _end(self, w: int) -> int:
        """The last word of a word with its parentheses."""
        return self.words.closes[w + 1] if self._opens(w) else w

    def _before(self, offset: int) -> Iterator[int]:
        """The word whose parentheses, or which itself, ends before an offset."""
        at = bisect_right(self.words.ends, offset) - 1
        w = self.words.opens.get(at, at + 1) - 1
        if w >= 0 and self._is_word(w):
            yield w

    def _is_alone(self, w: int) -> bool:
        """Whether a word, with its parentheses, has lines of its own, and stands between statements."""
        data, texts = self.words.bare, self.words.texts
        while True:
            last = self._end(w)
            start, end = self.words.starts[w], self.words.ends[last]
            line = data[data.rfind(b"\n", 0, start) + 1 : start]
            behind = data[end : (data.find(b"\n", end) + 1 or len(data) + 1) - 1]
            goes_on = last + 1 < len(texts) and texts[last + 1] in _GOING_ON
            if line.strip() or behind.strip() or goes_on or self.words.is_listed(w):
                return False
            if not w or texts[w - 1] in (*BORDERS, b":", b")", b"else"):
                return True
            w -= 1  # what stands before it has to be such a word, too
            if not self._is_word(w):
                return False

    def _is_said(self, w: int) -> bool:
        """Whether a line holds nothing but keywords and a word with its parentheses."""
        data, texts = self.words.bare, self.words.texts
        start, end = self.words.starts[w], self.words.ends[self._end(w)]
        before = data[data.rfind(b"\n", 0, start) + 1 : start].split()
        behind = data[end : (data.find(b"\n", end) + 1 or len(data) + 1) - 1]
        return (
            self._opens(w)
            and bool(before)
            and self.keywords.issuperset(before)
            and not behind.strip()
            and self._end(w) + 1 < len(texts)
            and texts[self._end(w) + 1] != b"{"
            and not self.words.is_listed(w)
        )

    def _line(self, w: int) -> Reading:
        data, end = self.data, self.words.ends[self._end(w)]
        start = data.rfind(b"\n", 0, self.words.starts[w]) + 1
        return Reading("lines", (left_out(data, start, end, UNREAD),))

    def _ended(self, w: int, sign: bytes = b";", holds_item: bool = False) -> Iterator[Reading]:
        end = self.words.ends[self._end(w)]
        if self.data[end : end + 1].isspace():
            known = () if sign != b";" else ((self.words.texts[w], "ended"),)
            span = (self.words.starts[w], end + 1)
            item = self._item(w).changes if holds_item else ()
            yield Reading("ended", (*item, Change(end, end + 1, sign, "")), known, (span,))

    def heads(self, faults: Sequence[Fault]) -> set[bytes]:
        """Words that a body follows where the end of a statement is missing."""
        found: set[bytes] = set()
        for fault in faults:
            if fault.missing != ";":
                continue
            for w in self._before(fault.start):
                if self._has_body(w) and self._is_head(w) and not self.words.is_listed(w):
                    found.add(self.words.texts[w])
        return found

    def _has_body(self, w: int) -> bool:
        """Whether a brace follows a word with its parentheses."""
        behind = self._end(w) + 1
        return behind < len(self.words.texts) and self.words.texts[behind] == b"{"

    def _is_label(self, w: int) -> bool:
        """Whether a word is all that stands before a colon in its statement."""
        texts = self.words.texts
        return (
            w + 1 < len(texts)
            and texts[w + 1] == b":"
            and w > 0
            and texts[w - 1] in BORDERS
            and self.words.ends[w] - self.words.starts[w] >= len(self.stand_ins["label"])
        )

    def _label(self, w: int) -> Reading:
        start, end = self.words.starts[w], self.words.ends[w]
        text = self.stand_ins["label"].ljust(end - start)
        return Reading(
            "label", (Change(start, end, text, HEAD),), ((self.words.texts[w], "label"),)
        )

    def _is_head(self, w: int) -> bool:
        size = self.words.ends[w] - self.words.starts[w]
        begins = not w or self.words.texts[w - 1] in (*BORDERS, b")", b":", b"else")
        return begins and self._opens(w) and size >= len(self.stand_ins["head"])

    def _head(self, w: int) -> Reading:
        start, end = self.words.starts[w], self.words.ends[w]
        return Reading(
            "head",
            (Change(start, end, self.stand_ins["head"].ljust(end - start), HEAD),),
            ((self.words.texts[w], "head"),)
        )

    def _aside(self, w: int) -> Iterator[Reading]:
        start, end = self.words.starts[w], self.words.ends[w]
        word = self.words.texts[w]
        yield Reading("aside", (left_out(self.data, start, end, ASIDE),), ((word, "aside"),))
        if self._opens(w) and (self._is_capital(w) or self.known.get(word) == "aside-call"):
            end = self.words.ends[self._end(w)]
            change = left_out(self.data, start, end, ASIDE)
            yield Reading("aside", (change,), ((word, "aside-call"),))

    def _is_stray(self, reading: Reading) -> bool:
        """Whether a word, or a text, stands beside what is left out, so that an operand it is none."""
        bare, (start, end, *_) = self.words.bare, reading.changes[0]
        before = bare[max(0, start - FAR):start].rstrip()
        behind = bare[end : end + FAR].lstrip()[:1]
        word = _LAST_WORD.search(before)
        is_after_word = word is not None and word.group() not in self.keywords
        if not CAPITALS.match(bare, start):
            is_before_word = behind.isalpha() or behind in (b"_", b"*")
            begins = not before or before[-1:] in (b";", b"{", b"}") or word is not None
            return (
                (is_before_word and begins)
                or (
                    is_after_word
                    and behind in (b",", b")", b";")
                    and self._has_name(before[:word.start() if word is not None else 0])
                )
            )
        return (
            behind.isalnum()
            or behind in (b"_", b"*", b'"', b"{")
            or before[-1:] in (b")", b"*", b'"', b"]")
            or is_after_word
        )

    def _has_name(self, before: bytes) -> bool:
        """Whether what stands before a word is a type, so that the word is a name."""
        before = before.rstrip()
        word = _LAST_WORD.search(before)
        is_type = word is not None and word.group() not in self.keywords
        return is_type or before[-1:] in (b"*", b"&", b">")

    def _is_wrapped(self, w: int) -> bool:
        closes = self.words.closes
        return self._opens(w) and self._opens(w + 1) and closes[w + 2] == closes[w + 1] - 1

    def _wrapped(self, w: int) -> Reading:
        starts, ends = self.words.starts, self.words.ends
        last = self.words.closes[w + 1]
        return Reading(
            "wrapped",
            (
                left_out(self.data, starts[w], ends[w + 1], WRAPPER),
                left_out(self.data, starts[last], ends[last], WRAPPER_END),
            ),
            ((self.words.texts[w], "wrapped"),),
        )

    def _is_item(self, w: int) -> bool:
        """Whether a word with its parentheses is all of an item of a list."""
        texts, behind = self.words.texts, self._end(w) + 1
        return (
            self._opens(w)
            and w > 0
            and texts[w - 1] in (b",", b"{", b"(")
            and behind < len(texts)
            and texts[behind] in (b",", b"}", b")")
        )

    def _item(self, w: int) -> Reading:
        start, end = self.words.starts[w + 1], self.words.ends[self._end(w)]
        change = left_out(self.data, start, end, ITEM)
        return Reading("item", (change,), ((self.words.texts[w], "item"),))

    def _typed(self, w: int) -> Iterator[Reading]:
        """A call in which some arguments are types."""
        if not self._opens(w):
            return
        words, opening, closing = self.words, w + 1, self.words.closes[w + 1]
        begin, changes, depth = words.ends[opening], list[Change](), 0
        for at in range(opening + 1, closing + 1):
            text = words.texts[at]
            depth += (text in BRACKETS) - (text in CLOSING)
            if (text == b"," and not depth) or at == closing:
                argument = self.data[begin:words.starts[at]]
                said = argument.strip()
                if self._is_type(said):
                    start = begin + argument.index(said)
                    end = start + len(said)
                    changes.append(Change(start, end, b"x" * len(said), ARGUMENT))
                begin = words.ends[at]
        if changes:
            yield Reading("typed", tuple(changes), ((words.texts[w], "typed"),))

    def _is_type(self, argument: bytes) -> bool:
        """Whether an argument can be nothing but a type, as far as its signs tell."""
        found = _TYPE.fullmatch(argument)
        if found is None:
            return False
        *first, last = argument.replace(b"*", b" ").split()
        if argument.endswith(b"*"):
            return True
        is_tagged = bool(first) and first[-1] in _TAGS
        qualifies = self.types.issuperset(first[:-1] if is_tagged else first)
        return qualifies and (is_tagged or last in self.types or first == [b"const"])

    def named(self, names: Set[bytes]) -> list[Reading]:
        """The readings of some known words, wherever they stand."""
        texts = self.words.texts
        return [r for w in range(len(texts)) if texts[w] in names for r in self._known(w)]

    def _known(self, w: int) -> Iterator[Reading]:
        """The reading of a word that another one like it had."""
        name = self.known.get(self.words.texts[w])
        if name == "typed":
            yield from self._typed(w)
        elif name == "aside":
            yield next(self._aside(w))
        elif name == "aside-call" and self._opens(w):
            yield from list(self._aside(w))[1:]
        elif name == "head" and self._is_head(w):
            yield self._head(w)
        elif name == "item" and self._opens(w):
            yield self._item(w)
        elif name == "wrapped" and self._is_wrapped(w):
            yield self._wrapped(w)
        elif name == "label" and self._is_label(w):
            yield self._label(w)
        elif name == "ended":
            yield from self._ended(w)

    def _lines(self, low: int, faults: Sequence[Fault]) -> Iterator[Reading]:
        """Whole lines: those of the fault, of its statement, of what stands at the top of the file."""
        data = self.data
        start, end = faults[0].start, max(fault.end for fault in faults)
        _, high = statement(self.words, end, len(data))
        closing = bisect_left(self.words.ends, high)
        whole = self.words.closes.get(closing)
        top = next(
            (
                (child.start_byte, child.end_byte)
                for child in self.root.children
                if child.start_byte <= start and end <= child.end_byte
            ),
            (low, high),
        )
        seen = set()
        begin = bisect_left(self.words.starts, low)
        low = self.words.starts[begin] if begin < len(self.words.starts) else low
        whole_end = high if whole is None else self.words.ends[whole]
        for first, last in ((start, end), (low, high), (low, whole_end), *self._bodies(begin), top):
            reading = self.lines_of(first, last)
            if reading is None:
                continue
            first, last = reading.changes[0].start, reading.changes[0].end
            if (first, last) not in seen and data.count(b"\n", first, last) < MOST_LINES:
                seen.add((first, last))
                yield reading

    def lines_of(self, first: int, last: int) -> Reading | None:
        """The whole lines of a stretch, if no bracket in them is closed elsewhere, as what stays."""
        data = self.data
        first = data.rfind(b"\n", 0, first) + 1
        end = data.find(b"\n", last)
        last = first + len(data[first:len(data) if end < 0 else end].rstrip())
        starts = self.words.starts
        inside = bisect_left(starts, first), bisect_left(starts, last)
        if first == last or not self.words.is_balanced(*inside):
            return None
        return line_left(data, first, last)

    def items_in(self, stretch: Stretch) -> list[Stretch]:
        """The items of the first body in a stretch, as far as signs tell."""
        words = self.words
        low, high = bisect_left(words.starts, stretch[0]), bisect_left(words.starts, stretch[1])
        opening = next((w for w in range(low, high) if words.texts[w] == b"{"), high)
        closing = words.closes.get(opening, opening)
        found: list[Stretch] = []
        begin = at = opening + 1
        while at < closing:
            is_end = words.texts[at] == b";"
            if words.texts[at] in BRACKETS:
                is_end = words.texts[at] == b"{"
                at = words.closes.get(at, at)
            if is_end and at < closing:
                if at + 1 < closing and words.texts[at] == b"}" and words.texts[at + 1] == b";":
                    at += 1
                found.append((words.starts[begin], words.ends[at]))
                begin = at + 1
            at += 1
        if begin < closing:
            found.append((words.starts[begin], words.ends[closing - 1]))
        return found

    def _bodies(self, word: int) -> Iterator[Stretch]:
        """The bodies around a word with their heads, the innermost first."""
        words, opening = self.words, word
        while (opening := words.body_around(opening)) >= 0 and opening in words.closes:
            low, _ = statement(words, words.starts[opening], len(self.data))
            closing = words.closes[opening]
            if closing + 1 < len(words.texts) and words.texts[closing + 1] == b";":
                closing += 1
            yield words.starts[bisect_left(words.starts, low)], words.ends[closing]


_LAST_WORD = re.compile(rb"[A-Za-z_]\w*\Z")

_TYPE = re.compile(rb"[A-Za-z_]\w*(?:\s+[A-Za-z_]\w*)*\s*(?:\*\s*)*")

_TAGS = frozenset((b"struct", b"union", b"enum"))
