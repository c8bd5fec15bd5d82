"""A *reading*: some words of a text as the parser is to see them, for what only a preprocessor knows.

What it sees is a text of the same length, with something else in the place of these words.
"""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Collection, Iterator, Sequence, Set
from typing import NamedTuple

from stilo.edits import blanked
from stilo.readers.reader import Stretch


#: The reading that leaves whole lines as they are.
LINES = "lines"

#: The readings, in the order in which they are tried.
READINGS = ("typed", "ended", "aside", "head", "label", "wrapped", "item", "lines")


class Change(NamedTuple):
    """A piece of the text that the parser sees otherwise.

    text: what it sees, as long as the piece. kind: of the token that stands there, or none where the text
    has none.
    """

    start: int
    end: int
    text: bytes
    kind: str


class Reading(NamedTuple):
    """One way of reading some words.

    changes: what the parser sees otherwise. words: how each word is read. spans: where no other reading may
    change anything meanwhile; the changes themselves, where it is empty.
    """

    name: str
    changes: tuple[Change, ...]
    words: tuple[tuple[bytes, str], ...] = ()
    spans: tuple[Stretch, ...] = ()

    @property
    def reach(self) -> tuple[Stretch, ...]:
        """The pieces of the text that no other reading may change."""
        return self.spans or tuple((change.start, change.end) for change in self.changes)

    @property
    def start(self) -> int:
        """Where the first change is."""
        return self.changes[0].start

    def without(self, done: Set[Change]) -> Reading | None:
        """The reading without changes that are made already; None if there is no other."""
        if done.isdisjoint(self.changes):
            return self
        changes = tuple(change for change in self.changes if change not in done)
        spans = tuple(
            (start, end)
            for start, end in self.spans
            if any(start <= change.start and change.end <= end for change in changes)
        )
        return self._replace(changes=changes, spans=spans) if changes else None

    @property
    def size(self) -> int:
        """How much it changes, in bytes."""
        return sum(change.end - change.start for change in self.changes)


def with_readings(data: bytes, readings: Sequence[Reading]) -> bytes:
    """The text as the parser is to see it."""
    return with_changes(data, [change for reading in readings for change in reading.changes])


def with_changes(data: bytes, changes: Collection[Change]) -> bytes:
    """The text with other words in it."""
    pieces: list[bytes] = []
    at = 0
    for change in sorted(changes):
        pieces += [data[at:change.start], change.text]
        at = change.end
    return b"".join([*pieces, data[at:]])


class Taken:
    """Readings of which none reaches into another one, and what they take of the text.

    kept: the readings. changes: all that they change.
    """

    def __init__(self) -> None:
        self.kept: list[Reading] = []
        self.changes: set[Change] = set()
        self._starts: list[int] = []  # of the pieces of the text that they take, in order
        self._ends: list[int] = []

    def copy(self) -> Taken:
        """The same, to be added to."""
        found = Taken()
        found.kept, found.changes = [*self.kept], {*self.changes}
        found._starts, found._ends = [*self._starts], [*self._ends]
        return found

    def add(self, whole: Reading) -> None:
        """Take in a reading, without what is done already, unless it reaches into another one."""
        reading = whole.without(self.changes)
        if reading is None:
            return
        starts, ends, reach = self._starts, self._ends, reading.reach
        for start, end in reach:
            at = bisect_right(starts, start)
            if at and ends[at - 1] > start or at < len(starts) and end > starts[at]:
                return
        self.kept.append(reading)
        self.changes.update(reading.changes)
        for start, end in reach:
            at = bisect_right(starts, start)
            starts.insert(at, start)
            ends.insert(at, end)


def taken_by(readings: Sequence[Reading]) -> Taken:
    """Readings without those that reach into another one. Whole lines count first, the longest before others.

    What two of them do alike is done by the first.
    """
    found = Taken()
    for reading in sorted(readings, key=lambda r: -r.size if r.name == LINES else 1):
        found.add(reading)
    return found


def apart(readings: Sequence[Reading]) -> list[Reading]:
    """The readings that `taken_by` keeps."""
    return taken_by(readings).kept


#: The kinds of tokens that readings make.
ASIDE, HEAD, WRAPPER, WRAPPER_END, ITEM, ARGUMENT, UNREAD = KINDS = (
    "macro",
    "macro_head",
    "macro_wrapper",
    "macro_wrapper_end",
    "macro_arguments",
    "macro_argument",
    "unread",
)


def left_out(data: bytes, start: int, end: int, kind: str) -> Change:
    return Change(start, end, blanked(data[start:end], [(0, end - start)]), kind)


def line_left(data: bytes, start: int, end: int) -> Reading:
    """A stretch of whole lines as what stays as it is."""
    return Reading(LINES, (left_out(data, start, end, UNREAD),))


def is_new(reading: Reading, taken: Collection[int]) -> bool:
    """Whether a reading begins where none was taken, or leaves whole lines as they are."""
    return reading.name == LINES or all(start not in taken for start, _ in reading.reach)


def joined(readings: Sequence[Reading]) -> Reading:
    """Several readings as one."""
    changes = tuple(sorted(change for reading in readings for change in reading.changes))
    known = tuple(word for reading in readings for word in reading.words)
    spans = tuple(sorted(span for reading in readings for span in reading.reach))
    return Reading(readings[0].name, changes, known, spans)


def together(readings: Sequence[Reading]) -> Iterator[Reading]:
    """Several readings as one, without those that overlap; none of none."""
    if readings:
        yield joined(apart(readings))
