"""Reading on where a grammar cannot: other readings of a word near a fault are tried.

A word that only a preprocessor knows may stand where the grammar permits none (`readings`). What makes the
fault go away is kept. All faults of a text are tried in one round, so that the number of parses does not grow
with theirs.
"""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterator, Mapping, Sequence, Set
from dataclasses import field
from typing import NamedTuple

import tree_sitter

from stilo.edits import Edit
from stilo.readers.look import CAPITALS, Fault, Look, faults_of, statements
from stilo.readers.reader import Stretch
from stilo.readers.reading import (
    LINES, Change, Reading, Taken, apart, is_new, joined, taken_by, with_changes, with_readings
)
from stilo.readers.views import merged
from stilo.readers.words import Words, statement
from stilo.records import dataclass

#: Parses a text that some edits make of another one, of which the tree is known.
ParseAgain = Callable[[bytes, bytes, tree_sitter.Tree, Sequence[Edit]], tree_sitter.Tree]

#: How many rounds a text is worth.
MOST_ROUNDS = 40
#: How many more in which nothing is tried but to leave whole lines as they are.
LAST_ROUNDS = 90
#: Stretches of more lines than these are narrowed down before they are left.
FEW_LINES = 12


@dataclass
class _Run:
    """Items in a row that have to be left. items: of the body they are in; low, high: which of them.
    side: the half of them that is tried; is_done: no fewer will do."""

    items: list[Stretch]
    low: int
    high: int
    side: str = "first"
    is_done: bool = False

    @property
    def half(self) -> Stretch:
        """The items that are tried."""
        middle = (self.low + self.high) // 2
        low, high = (self.low, middle) if self.side == "first" else (middle, self.high)
        return self.items[low][0], self.items[high - 1][1]

    @property
    def whole(self) -> Stretch:
        """All of them."""
        return self.items[self.low][0], self.items[self.high - 1][1]


@dataclass
class _Narrowing:
    """The search for the fewest items in a stretch that have to be left for its faults to go.

    Half of a run of items is tried, then the other half; where both are needed, each is a run of its own. A
    run of one item is looked into. (Delta debugging: Zeller and Hildebrandt, "Simplifying and Isolating
    Failure-Inducing Input", 2002.) whole: the stretch. best: what is known to help.
    """

    whole: Stretch
    best: Reading
    runs: list[_Run]

    def judge(self, reading: Reading, helps: bool) -> None:
        """Take in whether what was tried helps."""
        run = next(run for run in self.runs if not run.is_done)
        middle = (run.low + run.high) // 2
        if helps:
            self.best = reading
            run.low, run.high = ((run.low, middle) if run.side == "first" else (middle, run.high))
            run.side = "first"
        elif run.side == "first":
            run.side = "second"
        else:
            at = self.runs.index(run)
            self.runs[at : at + 1] = _halves(run)

    def next(self, look: Look) -> Reading | None:
        """What is to be tried next; None: nothing less helps."""
        while (run := next((run for run in self.runs if not run.is_done), None)) is not None:
            if run.high - run.low < 2:
                inner = look.items_in(run.items[run.low])
                if not inner or look.lines_of(inner[0][0], inner[-1][1]) is None:
                    run.is_done = True
                else:
                    run.items, run.low, run.high = inner, 0, len(inner)
                continue
            others = [look.lines_of(*other.whole) for other in self.runs if other is not run]
            tried = look.lines_of(*run.half)
            sides = [look.lines_of(*half.whole) for half in _halves(run)]
            if tried is None or None in others or None in sides:
                run.is_done = True
                continue
            return joined([tried, *(other for other in others if other is not None)])
        return None


def _halves(run: _Run) -> list[_Run]:
    middle = (run.low + run.high) // 2
    return [_Run(run.items, run.low, middle), _Run(run.items, middle, run.high)]


@dataclass
class _Site:
    """A statement with a fault: from where to where it goes, and the readings that are still to be tried.

    reach: where the first fault ends. count: how many faults there are. best: the reading after which the
    next fault is furthest on, and where that is. pending: a reading that waits until nothing else is left to
    be tried. narrowing: how far a long stretch of lines that helps has been narrowed down.
    """

    low: int
    high: int
    reach: int
    count: int
    readings: Iterator[Reading]
    best: tuple[int, Reading | None] = (0, None)
    pending: Reading | None = None
    narrowing: _Narrowing | None = None


class _Last(NamedTuple):
    """What was parsed last: the changes to the text, the text with them, and its tree."""

    changes: Set[Change]
    text: bytes
    tree: tree_sitter.Tree


def repaired(
    data: bytes,
    parse: Callable[[bytes], tree_sitter.Tree],
    parse_again: ParseAgain,
    words: Words,
    keywords: frozenset[bytes],
    types: frozenset[bytes],
    stand_ins: Mapping[str, bytes],
    names: Sequence[str],
    parsed: tree_sitter.Tree,
    known: dict[bytes, str],
    before: Sequence[Reading] = (),
) -> tuple[tree_sitter.Tree, list[Reading]]:
    """The tree of a text that has errors, with other readings, and these; errors are left where none helps.

    parse: the parser. parse_again: reads a text that differs little from another. words: of `data`. keywords, types: words that are none of the preprocessor's.
    stand_ins: what is read in the place of a head or a label. names: of the readings that may be tried.
    parsed: the tree with the readings of `before` and no others. known: words with the names of their
    readings, to which those found are added. before: readings that helped in another view.
    """
    search = _Search(
        data,
        parse,
        parse_again,
        words,
        keywords,
        types,
        stand_ins,
        known,
        list(names),
        list(before)
    )
    return search.run(parsed)


@dataclass
class _Search:
    """The rounds of trying.

    accepted: the readings that helped. trying: by where their statements begin. last: what was parsed last.
    wide: the long stretches of lines that helped. taken: what the first `settled` of `accepted` take.
    """

    data: bytes
    parse: Callable[[bytes], tree_sitter.Tree]
    parse_again: ParseAgain
    words: Words
    keywords: frozenset[bytes]
    types: frozenset[bytes]
    stand_ins: Mapping[str, bytes]
    known: dict[bytes, str]
    names: list[str]
    accepted: list[Reading]
    sites: dict[int, _Site] = field(default_factory=dict)
    trying: dict[int, Reading] = field(default_factory=dict)
    last: _Last | None = None
    wide: list[Reading] = field(default_factory=list)
    taken: Taken = field(default_factory=Taken)
    settled: int = 0

    def run(self, parsed: tree_sitter.Tree) -> tuple[tree_sitter.Tree, list[Reading]]:
        """Try until nothing is wrong, or nothing is left to be tried. parsed: with what is accepted so far."""
        changes = {change for reading in self.accepted for change in reading.changes}
        self.last = _Last(changes, with_changes(self.data, changes), parsed)
        if "head" in self.names:
            heads = self._look(parsed, ()).heads(faults_of(parsed.root_node))
            self.known.update((word, "head") for word in heads)
        for number in range(MOST_ROUNDS + LAST_ROUNDS):
            if number == MOST_ROUNDS and LINES in self.names:
                self._take_best()
                self.trying, self.names = {}, [LINES]
            faults = faults_of(parsed.root_node)
            self._judge(faults)
            is_done = not faults and not any(site.narrowing for site in self.sites.values())
            if is_done or not self._propose(faults, parsed):
                break
            parsed = self._parsed(list(self.trying.values()))
        self._take_best()
        self._widen()
        readings = apart(self.accepted)
        return self.parse(with_readings(self.data, readings)), readings

    def _take_best(self) -> None:
        """Accept the fewest lines known to help, where the search for fewer has to end here."""
        for site in self.sites.values():
            if site.narrowing is not None:
                self._accept(site.narrowing.best)
        self.sites = {}

    def _widen(self) -> None:
        """Leave all lines of a stretch that had been narrowed down, where faults are left in it after all."""
        while faults := faults_of(self._parsed([]).root_node):
            around = [
                reading
                for reading in self.wide
                if any(c.start <= f.start < c.end for f in faults for c in reading.changes)
            ]
            if not around:
                break
            self.wide = [reading for reading in self.wide if reading not in around]
            self.accepted += around

    def _changes(self, more: Sequence[Reading]) -> Set[Change]:
        """What the accepted readings change, and some more."""
        new = self.accepted[self.settled:]
        if any(reading.name == LINES for reading in new):  # these come before all others
            self.taken = taken_by(self.accepted)
        else:
            for reading in new:
                self.taken.add(reading)
        self.settled = len(self.accepted)
        if any(reading.name == LINES for reading in more):
            return taken_by([*self.accepted, *more]).changes
        taken = self.taken.copy()
        for reading in more:
            taken.add(reading)
        return taken.changes

    def _parsed(self, more: Sequence[Reading]) -> tree_sitter.Tree:
        """The tree of the text with the accepted readings and some more. Only what is read otherwise than the last
        time is parsed."""
        changes = self._changes(more)
        last = self.last
        assert last is not None
        if last.changes == changes:
            return last.tree
        text = with_changes(self.data, changes)
        stretches = merged((change.start, change.end) for change in changes ^ last.changes)
        edits = [Edit(start, end, text[start:end]) for start, end in stretches]
        tree = self.parse_again(text, last.text, last.tree, edits)
        self.last = _Last(changes, text, tree)
        return tree

    def _look(self, parsed: tree_sitter.Tree, taken: Collection[int]) -> Look:
        return Look(
            self.data,
            self.words,
            self.keywords,
            self.types,
            self.stand_ins,
            self.known,
            parsed.root_node,
            taken,
        )

    def _judge(self, faults: Sequence[Fault]) -> None:
        """Accept what helped of what was tried in the last round."""
        for low, reading in self.trying.items():
            site = self.sites[low]
            inside = [f.start for f in faults if site.low <= f.start <= site.high]
            if site.narrowing is not None:
                start, end = site.narrowing.whole
                helps = not inside and not any(start <= f.start < end for f in faults)
                site.narrowing.judge(reading, helps)
                continue
            if not inside and reading.name == LINES and self._is_long(reading):
                start, end = reading.changes[0].start, reading.changes[0].end
                site.narrowing = _Narrowing((start, end), reading, [_Run([(start, end)], 0, 1)])
                self.wide.append(reading)
                continue
            if not inside:
                self._accept(reading)
                continue
            goes_on = inside[0] > site.reach and len(inside) <= site.count
            if goes_on and _is_capital(reading):
                self._accept(reading)
                del self.sites[low]
            elif goes_on and inside[0] > site.best[0] and reading.name != LINES:
                site.best = (inside[0], reading)
        self.trying = {}

    def _is_long(self, reading: Reading) -> bool:
        """Whether lines that would stay are so many that fewer are to be looked for."""
        lines = sum(self.data.count(b"\n", c.start, c.end) for c in reading.changes)
        return len(reading.changes) == 1 and lines > FEW_LINES

    def _propose(self, faults: Sequence[Fault], parsed: tree_sitter.Tree) -> bool:
        """Choose what is tried next for each statement with a fault. False: nothing is left."""
        size = len(self.data)
        is_changed = False
        taken = {start for reading in self.accepted for start, _ in reading.reach}
        narrowed = [site for site in self.sites.values() if site.narrowing is not None]
        for site in narrowed:
            assert site.narrowing is not None
            reading = site.pending or site.narrowing.next(self._look(parsed, taken))
            site.pending = None
            if reading is None:
                self._accept(site.narrowing.best)
                del self.sites[site.low]
                is_changed = True
            else:
                self.trying[site.low] = reading
        closed = [site.narrowing.whole for site in narrowed if site.narrowing is not None]
        faults = [f for f in faults if not any(a <= f.start < b for a, b in closed)]
        for low, found in statements(faults, self.words, size).items():
            high = max(statement(self.words, fault.end, size)[1] for fault in found)
            if low not in self.sites:
                candidates = self._look(parsed, taken).readings(low, found, self.names)
                self.sites[low] = _Site(low, high, found[0].end, len(found), candidates)
            site = self.sites[low]
            if site.narrowing is not None:
                continue
            site.high = high
            following = (r for r in site.readings if is_new(r, taken))
            reading = site.pending or next(following, None)
            site.pending = None
            if (reading is None or reading.name == LINES) and site.best[1] is not None:
                self._accept(site.best[1])
                del self.sites[low]
                is_changed = True
            elif reading is not None:
                self.trying[low] = reading
        if is_changed or any(reading.name != LINES for reading in self.trying.values()):
            # Lines stay as they are only where nothing else can be tried.
            for low in [low for low, reading in self.trying.items() if reading.name == LINES]:
                if self.sites[low].narrowing is None:
                    self.sites[low].pending = self.trying.pop(low)
        return is_changed or bool(self.trying)

    def _accept(self, reading: Reading) -> None:
        self.accepted.append(reading)
        self.known.update(reading.words)


def _is_capital(reading: Reading) -> bool:
    """Whether a reading is of a word in capitals, which most often is the preprocessor's."""
    return bool(reading.words) and CAPITALS.fullmatch(reading.words[0][0]) is not None
