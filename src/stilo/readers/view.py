"""One view of a text that a preprocessor goes over (see `views`), and the same after an edit."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

from stilo.edits import Edit, apply_edits, blanked, moved
from stilo.readers.grammar import GrammarParsed
from stilo.readers.reader import Stretch
from stilo.tree.weave import Leaf


@dataclass(frozen=True)
class View:
    """What the grammar read of a view of a text, and what that did not see.

    dropped, renamed: see `woven`. unread: what stays as it is, since it cannot be read.
    """

    parsed: GrammarParsed
    leaves: Sequence[Leaf]
    dropped: Sequence[int] = ()
    renamed: Mapping[int, tuple[int, int]] = field(default_factory=dict)
    unread: Sequence[Stretch] = ()

    def edited(self, data: bytes, edit: Edit, directive: int) -> View | None:
        """The view after an edit of its text, `data`, that is no part of a directive.

        directive: the kind of these. None if anything else on the lines of the edit, or on those beside them, is
        hidden from the grammar or read otherwise, unless all of it is hidden; and if the view cannot be read then.
        """
        first, last = _lines_beside(data, edit)
        hidden = [
            leaf
            for leaf in self.leaves
            if leaf.start < last and leaf.end > first and leaf.kind != directive
        ]
        text, seen = self.parsed.data, edit
        if hidden:
            if len(hidden) > 1 or not (hidden[0].start < first and last < hidden[0].end):
                return None
            seen = replace(edit, text=blanked(edit.text, [(0, len(edit.text))]))
        elif text[edit.start:edit.end] != data[edit.start:edit.end]:
            return None
        if any(first <= place <= last for place in (*self.dropped, *self.renamed)):
            return None
        parsed = self.parsed.edited(apply_edits(text, [seen]), [seen])
        if parsed.has_error:
            return None

        def after(place: int) -> int:
            return moved(place, [edit])

        return View(
            parsed,
            [leaf._replace(start=after(leaf.start), end=after(leaf.end)) for leaf in self.leaves],
            [after(place) for place in self.dropped],
            {after(start): (after(end), kind) for start, (end, kind) in self.renamed.items()},
            [(after(start), after(end)) for start, end in self.unread],
        )

    def reads_alike(self, part: View, kept: Sequence[Stretch], known: frozenset[int]) -> bool:
        """Whether a text that consists of some stretches of this one is read as these are here.

        part: the view of that text. known: the kinds of leaves of which the grammar sees nothing anyhow.
        """
        text = self.parsed.data
        if b"".join(text[start:end] for start, end in kept) != part.parsed.data:
            return False
        here: list[tuple[int, int, int]] = []
        at = 0
        for start, end in kept:
            here += self._signs(start, end, at - start, known)
            at += end - start
        return sorted(here) == sorted(part._signs(0, at, 0, known))

    def _signs(
        self, start: int, end: int, shift: int, known: frozenset[int]
    ) -> list[tuple[int, int, int]]:
        """What the grammar does not see, or sees otherwise, in a stretch: from where to where, moved on, and its kind."""
        found = [(place, place, -1) for place in self.dropped]
        found += [(place, last, kind) for place, (last, kind) in self.renamed.items()]
        found += [leaf[:3] for leaf in self.leaves if leaf.kind not in known]
        return [(a + shift, b + shift, kind) for a, b, kind in found if start <= a < end]


def _lines_beside(data: bytes, edit: Edit) -> Stretch:
    """The lines of an edit, with one more on each side."""
    start = data.rfind(b"\n", 0, max(0, data.rfind(b"\n", 0, edit.start))) + 1
    end = data.find(b"\n", edit.end)
    end = data.find(b"\n", end + 1) if end >= 0 else -1
    return start, len(data) if end < 0 else end + 1
