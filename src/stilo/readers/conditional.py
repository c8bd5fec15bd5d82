"""The reader of sources that a preprocessor goes over: view by view, with words that only it knows.

Over a grammar that knows nothing of it: of each view (see `views`) it sees the text with blanks in the
place of directives and of other branches, and with other readings of what it cannot read (see `repair`).
All these pieces are put back into the tree as tokens of their own.
"""

from __future__ import annotations

import re
from bisect import bisect_right
from collections.abc import Mapping, Sequence, Set
from dataclasses import replace
from functools import cached_property
from typing import NamedTuple

from stilo.edits import Edit, blanked, difference
from stilo.errors import Fault
from stilo.patterns import compiled
from stilo.readers.balance import odd_lines
from stilo.readers.grammar import GrammarParsed, GrammarReader, Rewritten
from stilo.readers.look import Look
from stilo.readers.reader import Body, Stretch, Wanted
from stilo.readers.reading import (
    ARGUMENT, ASIDE, HEAD, ITEM, KINDS, LINES, UNREAD, Change, Reading, apart, line_left,
    with_readings,
)
from stilo.readers.repair import repaired
from stilo.readers.view import View
from stilo.readers.views import Directive, Directives, branches, conditionals, views
from stilo.readers.words import Words, words_pattern
from stilo.records import dataclass
from stilo.source import Source
from stilo.tree.flat import Tree
from stilo.tree.weave import SAME_KIND, Leaf, woven

#: The kinds of tokens that directives and branches which a view leaves out are.
DIRECTIVE, BRANCH = "directive", "other_branch"
#: What stands between the shapes of views.
NEXT_VIEW = -2


class Preprocessed(NamedTuple):
    """What a sheet says of directives and of words that only a preprocessor knows.

    readings: the names of those that may be tried. known: words, with their readings. types: words that
    are types or parts of them. stand_ins: reading → the word that is read in the place of another. named:
    known words that are read so at once, whether or not the grammar could go on.
    """

    directives: Directives
    words: re.Pattern[bytes]
    readings: tuple[str, ...]
    known: Mapping[bytes, str]
    types: frozenset[bytes]
    stand_ins: Mapping[str, bytes]
    named: frozenset[bytes] = frozenset()

    @classmethod
    def of(
        cls,
        patterns: Sequence[str],
        readings: Sequence[str],
        known: Sequence[str],
        types: Sequence[str],
        stand_ins: Sequence[str],
        is_ours: bool,
    ) -> Preprocessed:
        """By the words of the facts. Raises re.error."""
        words = compiled(words_pattern(patterns[0].encode()), re.DOTALL, is_ours)
        pairs = zip(known[::2], known[1::2])
        named = {word.encode(): reading for word, reading in pairs}
        typed = frozenset(word.encode() for word in types)
        read_for = {name: word.encode() for name, word in zip(stand_ins[::2], stand_ins[1::2])}
        lines = Directives.of(patterns, is_ours)
        return cls(lines, words, tuple(readings), named, typed, read_for)


@dataclass(frozen=True)
class ViewParsed:
    """A text as it is read view by view (see `Parsed`).

    lines: its directives. views: this one, then the further ones.
    """

    reader: ConditionalReader
    data: bytes
    wanted: Wanted
    lines: Sequence[Directive]
    views: Sequence[View]

    @property
    def _first(self) -> GrammarParsed:
        return self.views[0].parsed

    @property
    def has_error(self) -> bool:
        """Whether some of this view could not be read."""
        return self._first.has_error

    @property
    def size(self) -> int:
        """The number of the grammar's own nodes, in all views."""
        return sum(view.parsed.size for view in self.views)

    @property
    def others(self) -> Sequence[ViewParsed]:
        """The further views, each as a text of its own."""
        return [replace(self, views=[view]) for view in self.views[1:]]

    @property
    def is_plain(self) -> bool:
        """Whether there is one view, of which nothing but directives is hidden from the grammar."""
        view = self.views[0]
        kind = self.reader.kind_of(DIRECTIVE)
        is_shown = all(leaf.kind == kind for leaf in view.leaves)
        return len(self.views) == 1 and is_shown and not (view.dropped or view.renamed)

    @property
    def unread(self) -> Sequence[Stretch]:
        """Where the text stays as it is, since no view could read it."""
        return sorted({stretch for view in self.views for stretch in view.unread})

    @cached_property
    def tree(self) -> Tree:
        """The flat tree of this view; its shape is that of all views."""
        view, root = self.views[0], self._first.parsed.root_node.kind_id
        own = self._first.tree
        tree = woven(own, self.data, view.leaves, root, view.dropped, view.renamed)
        inner = set(own.inner)
        shape = list(own.shape)
        for other in self.views[1:]:
            inner |= other.parsed.tree.inner
            shape += [NEXT_VIEW, *other.parsed.tree.shape]
        return replace(tree, shape=shape, inner=frozenset(inner), size=self.size, is_full=False)

    @property
    def top(self) -> Tree:
        """The flat tree of this view."""
        return self.tree

    def fault(self, source: Source, pairs: Mapping[str, str]) -> Fault:
        """The first error."""
        return self._first.fault(source, pairs)

    def leading_comments(self) -> list[str]:
        """The comments before all code."""
        return self._first.leading_comments()

    def bodies(self, start: int, end: int, kinds: Set[int]) -> Sequence[Body]:
        """The bodies around a stretch, the root first."""
        return self._first.bodies(start, end, kinds)

    def edited(self, data: bytes, edits: Sequence[Edit]) -> ViewParsed:
        """The text after some edits."""
        return self.edited_alike(data, edits) or self.reader.read(data, self.wanted)

    def edited_alike(self, data: bytes, edits: Sequence[Edit]) -> ViewParsed | None:
        """The text after some edits, if nothing of it that is hidden from the grammar or read otherwise is near them."""
        edit = difference(self.data, data)
        hidden = [*((line.start, line.end) for line in self.lines), *self.unread]
        if any(start < edit.end and edit.start < end for start, end in hidden):
            return None
        lines = self.reader.directives.edited(self.lines, data, edit)
        if lines is None:
            return None
        if self.reader.has_known_words(edit, data):
            return None
        directive = self.reader.kind_of(DIRECTIVE)
        found = [view.edited(self.data, edit, directive) for view in self.views]
        views = [view for view in found if view is not None]
        return (
            replace(self, data=data, lines=lines, views=views) if len(views) == len(found) else None
        )

    def is_seen(self, start: int, end: int) -> bool:
        """Whether all of a stretch is in this view, and no other view has other text there."""
        branch = self.reader.kind_of(BRANCH)
        return (
            not any(
                line.does != "other" and line.start < end and line.end > start
                for line in self.lines
            )
            and not any(
                leaf.kind == branch and leaf.start < end and leaf.end > start
                for leaf in self.views[0].leaves
            )
        )

    def part(self, data: bytes, kept: Sequence[Stretch]) -> ViewParsed | None:
        """A text that consists of some stretches of this one, read as they are here."""
        views: list[View] = []
        for view in self.views:
            part = view.part(kept)
            if part is None:
                return None
            if all(part.leaves != other.leaves for other in views):
                views.append(part)
        return replace(self, data=data, lines=self.reader.directives.find(data), views=views)

    @cached_property
    def together(self) -> Sequence[Sequence[Stretch]]:
        """For each conditional the lines of its directives."""
        return [[(line.start, line.end) for line in found] for found in conditionals(self.lines)]

    def shape(self, inner: Set[int]) -> list[int]:
        """The shapes of all views."""
        shape: list[int] = []
        for view in self.views:
            shape += [NEXT_VIEW, *view.parsed.shape(inner)]
        return shape[1:]

    def same_as(self, tree: Tree) -> bool:
        """Whether all views have the shapes of those of another text."""
        is_as_large = tree.has_prose or self.size == tree.size
        return is_as_large and self.shape(tree.inner) == tree.shape


class ConditionalReader:
    """Reads texts by a grammar, view by view (see the module's text). Thread-safe."""

    def __init__(self, inner: GrammarReader, said: Preprocessed) -> None:
        self._inner = inner
        self._said = said
        self.name = inner.name
        names = (DIRECTIVE, BRANCH, *KINDS)
        self.kinds = inner.kinds.with_named(names)
        first = len(inner.kinds.names)
        self._kind = {name: first + number for number, name in enumerate(names)}
        self._keywords = frozenset(inner.kinds.names[n].encode() for n in inner.kinds.signs)

    @property
    def readings(self) -> tuple[str, ...]:
        """How words may be read."""
        return self._said.readings

    def with_words(self, known: Mapping[bytes, str]) -> ConditionalReader:
        """The same, with more words that are known, and their readings, in which they are read at once."""
        said = self._said._replace(known={**self._said.known, **known}, named=frozenset(known))
        return ConditionalReader(self._inner, said)

    @property
    def directives(self) -> Directives:
        """What finds directives in a text."""
        return self._said.directives

    def has_known_words(self, edit: Edit, data: bytes) -> bool:
        """Whether a word that a style names is on the lines of a text on which an edit led to it."""
        start, end = edit.start, edit.start + len(edit.text)
        first, last = data.rfind(b"\n", 0, start) + 1, data.find(b"\n", end)
        lines = data[first:last if last >= 0 else len(data)]
        return any(word in lines for word in self._said.named)

    def kind_of(self, name: str) -> int:
        """The number of a kind that the grammar does not have."""
        return self._kind[name]

    def read(self, data: bytes, wanted: Wanted) -> ViewParsed:
        """Read a text. Of its further views only those are there that can be read."""
        directives = self._said.directives
        lines = directives.find(data)
        found: list[View] = []
        outside: list[Sequence[Stretch]] = []  # what each of them leaves out
        unread: list[Stretch] = []
        readings: list[Reading] = []
        known = dict(self._said.known)
        starts = [line.start for line in lines]
        for left_out in views(branches(data, lines, directives)):
            inside = iter(left_out)
            leaves: list[Leaf] = []
            current = next(inside, None)
            for line in lines:
                while current is not None and current[1] <= line.start:
                    leaves += self._branch(data, current)
                    current = next(inside, None)
                if current is None or line.start < current[0]:
                    leaves.append(Leaf(line.start, _end(data, line), self._kind[DIRECTIVE]))
            while current is not None:
                leaves += self._branch(data, current)
                current = next(inside, None)
            view, readings = self._view(data, leaves, wanted, readings, known)
            if not found or not view.parsed.has_error:
                found.append(view)
                outside.append(left_out)
            else:
                unread += set(outside[0]).difference(left_out)
        if unread:
            first = found[0]
            found[0] = replace(first, unread=[*first.unread, *sorted(unread)])
        return ViewParsed(self, data, wanted, lines, found)

    def _branch(self, data: bytes, stretch: Stretch) -> list[Leaf]:
        """A branch that is left out, as a token: whole lines without blank ones at the ends."""
        start, end = stretch
        text = data[start:end]
        solid = text.lstrip()
        if not solid:
            return []
        first = data.rfind(b"\n", 0, end - len(solid)) + 1
        return [Leaf(max(start, first), start + len(text.rstrip()), self._kind[BRANCH])]

    def _view(
        self,
        data: bytes,
        leaves: list[Leaf],
        wanted: Wanted,
        before: Sequence[Reading],
        known: dict[bytes, str],
    ) -> tuple[View, list[Reading]]:
        """A view of a text, and the readings in it.

        leaves: what it leaves out. before: the readings of the view before. known: words with theirs.
        """
        inner = self._inner
        text = blanked(data, [(leaf.start, leaf.end) for leaf in leaves])
        readings = [
            r for r in before if all(text[start:end] == data[start:end] for start, end in r.reach)
        ]
        if any(word in text for word in self._said.named):
            readings = apart([*readings, *self._named(text, known)])
        parsed = inner.parse(with_readings(text, readings) if readings else text)
        otherwise = Rewritten(text)
        if parsed.root_node.has_error or inner.misread(text, parsed) is not None:
            otherwise = inner.rewritten(text)
            if otherwise.data != text:
                text = otherwise.data
                parsed = inner.parse(with_readings(text, readings))
        if parsed.root_node.has_error:
            words = Words.of(text, self._said.words)
            odd = odd_lines(text, words) if LINES in self._said.readings else []
            if odd:
                left = [line_left(text, text.rfind(b"\n", 0, a) + 1, b) for a, b in odd]
                readings = apart([*left, *readings])
                words = Words.of(with_readings(text, left), self._said.words)
                parsed = inner.parse(with_readings(text, readings))
            if parsed.root_node.has_error:
                parsed, readings = repaired(
                    text,
                    inner.parse,
                    inner.parse_again,
                    words,
                    self._keywords,
                    self._said.types,
                    self._said.stand_ins,
                    self._said.readings,
                    parsed,
                    known,
                    readings,
                )
        changes = sorted(change for reading in readings for change in reading.changes)
        if changes:
            text = with_readings(text, readings)
            starts = [change.start for change in changes]
            leaves = [leaf for leaf in leaves if not _is_in(leaf, starts, changes)]
        leaves += [
            Leaf(c.start, c.end, self._kind[c.kind], _BELONGS.get(c.kind, ""))
            for c in changes
            if c.kind and c.kind not in (HEAD, ARGUMENT)
        ]
        leaves.sort()
        renamed: dict[int, tuple[int, int]] = {
            start: (end, SAME_KIND) for start, end in otherwise.longer.items()
        }
        renamed |= {
            c.start: (c.end, self._kind[c.kind]) for c in changes if c.kind in (HEAD, ARGUMENT)
        }
        dropped = [*otherwise.put_in, *(c.start for c in changes if not c.kind)]
        unread = [(c.start, c.end) for c in changes if c.kind == UNREAD]
        read = GrammarParsed(inner, text, wanted, parsed)
        return View(read, leaves, dropped, renamed, unread), readings

    def _named(self, text: bytes, known: dict[bytes, str]) -> list[Reading]:
        """The readings of the words in a text that a style names."""
        said = self._said
        words, nothing = Words.of(text, said.words), self._inner.parse(b"").root_node
        look = Look(
            text, words, self._keywords, said.types, said.stand_ins, known, nothing, frozenset()
        )
        return look.named(said.named)


#: Where tokens that the grammar does not see belong.
_BELONGS = {ASIDE: "next", ITEM: "last"}


def _end(data: bytes, line: tuple[int, int, str]) -> int:
    """Where a directive ends: at its last character, or at the line end that is joined to it."""
    text = data[line[0]:line[1]]
    solid = text.rstrip()
    joined = text.find(b"\n", len(solid)) if solid.endswith(b"\\") else -1
    return line[0] + (len(solid) if joined < 0 else joined + 1)


def _is_in(leaf: Leaf, starts: Sequence[int], changes: Sequence[Change]) -> bool:
    """Whether a leaf stands in one of the changes, which are in order and begin at `starts`."""
    at = bisect_right(starts, leaf.start) - 1
    return at >= 0 and leaf.end <= changes[at].end
