"""One view of a text that a preprocessor goes over (see `views`), and the same after an edit."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Mapping, Sequence
from dataclasses import field, replace
from itertools import accumulate

from stilo.edits import Edit, apply_edits, blanked, moved
from stilo.readers.grammar import GrammarParsed
from stilo.readers.reader import Stretch
from stilo.records import dataclass
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

        directive: the kind of these. None if anything else on the lines of the edit is hidden from the grammar or
        read otherwise, unless all of it is hidden; the same for the lines beside them, if more than spaces is edited.
        None, too, if the view cannot be read then.
        """
        first, last = _lines(data, edit)
        if not _is_of_spaces(data, edit, bool(self.unread)):
            first, last = _lines(data, Edit(max(0, first - 1), last, b""))
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

    def part(self, kept: Sequence[Stretch]) -> View | None:
        """Some stretches of the view, read as they are here; None if they cannot be."""
        edges = [place for stretch in kept for place in stretch]
        if any(
            bisect_right(edges, leaf.start) < bisect_left(edges, leaf.end) for leaf in self.leaves
        ):
            return None  # some of what is hidden is not in them
        whole = self.parsed
        data = b"".join(whole.data[start:end] for start, end in kept)
        parsed = replace(whole, data=data, parsed=whole.reader.parse(data))
        if parsed.has_error:
            return None
        sizes = [0, *accumulate(end - start for start, end in kept)]

        def within(start: int, end: int) -> Stretch | None:
            """Where a stretch is in the part, if it is."""
            at = bisect_right(edges, start) - 1
            if at < 0 or at % 2:
                return None
            shift = sizes[at // 2] - edges[at]
            return start + shift, end + shift

        leaves = [(leaf, within(leaf.start, leaf.end)) for leaf in self.leaves]
        dropped = [within(place, place) for place in self.dropped]
        renamed = [(within(start, end), kind) for start, (end, kind) in self.renamed.items()]
        unread = [within(start, end) for start, end in self.unread]
        return View(
            parsed,
            [leaf._replace(start=at[0], end=at[1]) for leaf, at in leaves if at],
            [at[0] for at in dropped if at],
            {at[0]: (at[1], kind) for at, kind in renamed if at},
            [at for at in unread if at],
        )


def _lines(data: bytes, edit: Edit) -> Stretch:
    """The whole lines of an edit."""
    end = data.find(b"\n", edit.end)
    return data.rfind(b"\n", 0, edit.start) + 1, len(data) if end < 0 else end + 1


def _is_of_spaces(data: bytes, edit: Edit, keeps_indent: bool) -> bool:
    """Whether an edit changes no more than the spaces in one line. keeps_indent: the indent must stay, too."""
    start, end = _lines(data, edit)
    before = data[start:end]
    after = data[start:edit.start] + edit.text + data[edit.end:end]
    is_one_line = before.count(b"\n") < 2 and b"\n" not in edit.text
    is_set_in_alike = _indent(before) == _indent(after)
    return is_one_line and before.split() == after.split() and (is_set_in_alike or not keeps_indent)


def _indent(line: bytes) -> bytes:
    return line[:len(line) - len(line.lstrip())]
