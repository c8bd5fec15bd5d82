"""An excerpt of a text: the lines that have a say in the layout of a part, and no others.

An editor asks for a statement in a file of thousands of lines. What stands far away in the same body
decides nothing about it, so that the lines of it can be left out, and what remains is a program of the
same language, with the same bodies around the part.

Kept are: all that is around the bodies that the part lies in; in each body what it begins and ends with,
which are its delimiters and the first statement, whose column is the block's; of the others the part itself,
the lines beside it as far as no blank line parts them, since columns go through these, and one statement more
on each side, since blank lines go by what stands beside them. Of a long item that is kept so, its begin and its
end are enough. What cannot be read is left out, unless it is the part itself.
"""

from __future__ import annotations

from collections.abc import Callable, Collection, Sequence, Set
from itertools import accumulate, groupby

from stilo.edits import Edit
from stilo.layout.near import BLANK_LINE, near
from stilo.readers import Body, Item, Stretch
from stilo.records import dataclass


@dataclass(frozen=True)
class Excerpt:
    """Some lines of a text. kept: the stretches of it that are there, in order, apart."""

    data: bytes
    kept: Sequence[Stretch]

    @property
    def text(self) -> bytes:
        """The lines."""
        return b"".join(self.data[start:end] for start, end in self.kept)

    def place(self, offset: int) -> int:
        """Where a place of the text is in the excerpt, which must hold it."""
        at = 0
        for start, end in self.kept:
            if start <= offset <= end:
                return at + offset - start
            at += end - start
        raise ValueError("no part of the excerpt")

    def origin(self, offset: int) -> int:
        """Where a place of the excerpt is in the text; at a hole, before what is left out."""
        at = 0
        for start, end in self.kept:
            if offset <= at + end - start:
                return start + offset - at
            at += end - start
        return self.kept[-1][1]  # a line end that the text lacks

    @property
    def holes(self) -> Sequence[int]:
        """The places of the excerpt at which lines are left out."""
        return list(accumulate(end - start for start, end in self.kept))[:-1]

    def outward(self, edits: Sequence[Edit]) -> list[Edit] | None:
        """Edits of the excerpt as edits of the text; None if one reaches over what was left out."""
        found: list[Edit] = []
        at = 0
        waiting = list(reversed(edits))
        for start, end in self.kept:
            length = end - start
            while waiting and waiting[-1].end <= at + length:
                edit = waiting.pop()
                if edit.start < at:
                    return None
                shift = start - at
                found.append(Edit(edit.start + shift, edit.end + shift, edit.text))
            at += length
        return None if waiting else found


def excerpt(
    data: bytes,
    bodies: Sequence[Body],
    part: Stretch,
    comments: Set[int],
    heads: Set[int],
    body_in: Callable[[Item], Body | None],
    most: int,
    together: Sequence[Sequence[Stretch]] = (),
) -> Excerpt | None:
    """The lines that have a say in the layout of a part.

    bodies: those around the part, the root first. comments: their kinds. heads: the kinds of items that
    stay together, such as imports, with all before them. body_in: the body that an item ends with. most: a
    body of no more bytes is kept whole, unless some of it cannot be read. together: groups of lines of which all stay if one does. None where the
    part itself cannot be read, or shares its lines with what cannot.
    """
    holes: list[Stretch] = []
    for body in bodies:
        chosen = [n for n, i in enumerate(body.items) if i.end > part[0] and i.start < part[1]]
        if not chosen:
            break
        first, last = chosen[0], chosen[-1]
        is_inside = len(chosen) == 1 and body is not bodies[-1]
        if any(body.items[n].is_broken for n in chosen) and not is_inside:
            return None
        size = body.items[-1].end - body.items[0].start
        keeps: Collection[int] = range(len(body.items))
        if size > most:
            keeps = _window(data, body.items, range(first, last + 1), comments)
        head = next((n for n, i in enumerate(body.items) if n and i.kind not in comments), 0)
        if heads:
            head = max([head, *(n for n, item in enumerate(body.items) if item.kind in heads)])
        found = _holes(data, body.items, head, keeps, range(first, last + 1))
        if found is None:
            return None
        holes += found
        stay = {*keeps, *range(head + 1), len(body.items) - 1}
        for number in stay.difference(range(first, last + 1)):
            beside = body.items[number]
            if beside.end - beside.start > most:
                inner = body_in(beside)
                items = () if inner is None else inner.items
                holes += _holes(data, items, 1, range(0), range(0)) or ()
    kept, at = [], 0
    for start, end in _apart(data, sorted(holes), together):
        kept.append((at, start))
        at = max(at, end)
    return Excerpt(data, [*kept, (at, len(data))])


def _apart(
    data: bytes, holes: Sequence[Stretch], together: Sequence[Sequence[Stretch]]
) -> list[Stretch]:
    """Holes of whole lines, in order, without the lines of groups that are not all in the same one."""
    lines: list[Stretch] = []
    for group in together:
        around = [start for start, end in holes if start <= group[0][0] and group[-1][1] <= end]
        if not around:
            lines += group
    found: list[Stretch] = []
    for start, end in holes:
        for first, last in sorted(lines):
            if start <= first < end:
                found.append((start, data.rfind(b"\n", 0, first) + 1))
                start = data.find(b"\n", last) + 1 or len(data)
        found.append((start, end))
    return [(start, end) for start, end in found if start < end]


def kinds_in(bodies: Sequence[Body], part: Stretch) -> set[int]:
    """The kinds of all items that reach into a part."""
    return {i.kind for b in bodies for i in b.items if i.end > part[0] and i.start < part[1]}


def _window(data: bytes, items: Sequence[Item], part: range, comments: Set[int]) -> Set[int]:
    """The numbers of the items of a body that have a say in the layout of some of them."""

    def is_code(number: int) -> bool:
        return items[number].kind not in comments

    def is_parted(number: int) -> bool:
        return BLANK_LINE.search(data, items[number - 1].end, items[number].start) is not None

    return near(set(part), len(items), is_code, is_parted)


def _holes(
    data: bytes, items: Sequence[Item], head: int, keeps: Collection[int], part: range
) -> list[Stretch] | None:
    """The whole lines of the items that are not kept, or cannot be read. None if the part shares these.

    head: the last of the first items, which are kept.
    """
    stays = [n in keeps or n <= head or n == len(items) - 1 for n in range(len(items))]
    for number, item in enumerate(items):
        stays[number] = number in part or stays[number] and not item.is_broken
    found: list[Stretch] = []
    for is_kept, run in groupby(range(len(items)), stays.__getitem__):
        gone = [] if is_kept else [items[number] for number in run]
        broken = [item for item in gone if item.is_broken]
        # What shares a line with what is kept stays, too.
        while gone and data[_line_start(data, gone[0]):gone[0].start].strip():
            gone.pop(0)
        while gone and data[gone[-1].end:_line_end(data, gone[-1])].strip():
            gone.pop()
        if any(item not in gone for item in broken):
            return None
        if gone:
            found.append((_line_start(data, gone[0]), _line_end(data, gone[-1])))
    return found


def _line_start(data: bytes, item: Item) -> int:
    """Where the line begins on which an item does."""
    return data.rfind(b"\n", 0, item.start) + 1


def _line_end(data: bytes, item: Item) -> int:
    """Where the line ends on which an item does, its line end included."""
    return data.find(b"\n", item.end) + 1 or len(data)
