"""Which tags belong together, by the rules of the HTML standard for tags that may be left out."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence

from stilo.languages.html.elements import BLOCKS, BOUNDS, BOXES, ENDED_BY, TABLE_PARTS, UNSHOWN
from stilo.languages.html.scan import Piece, ScanError
from stilo.languages.html.sheets import OwnSheets
from stilo.records import dataclass

#: Elements that may be open at a time. Parsers look through them all for each tag.
MOST_DEPTH = 3000
#: Open elements that are looked through at most for the one that a tag ends.
_MOST_OPEN = 1000
_IN_TABLES = TABLE_PARTS | {b"table"}
_TABLE_BOUNDS = frozenset((b"table", b"template", b"html"))
_END_BOUNDS = BOUNDS - {b"ul", b"ol", b"dl"}
_PASSED = frozenset((b"address", b"div", b"p"))
_ENDERS = {
    name: {e for e, names in ENDED_BY.items() if name in names}
    for name in frozenset().union(*ENDED_BY.values())
}


@dataclass
class Matched:
    """Of each piece that is a tag: where what is in its element ends, as the number of a piece, and whether an end
    tag stands there; whether it begins a line, and whether it holds what does; how it is read by words that are
    known; of each that is an end tag, whether it ends something."""

    close: list[int]
    has_end: list[bool]
    is_block: list[bool]
    has_block: list[bool]
    reading: list[str]
    is_end: list[bool]

    def is_box(self, name: bytes, at: int) -> bool:
        """Whether an element stands in a line, but white space at its inner edges is not shown."""
        return name in BOXES or self.reading[at] == "box" and name in BLOCKS


def match(
    pieces: Sequence[Piece], words: Mapping[str, str], sheets: OwnSheets | None = None
) -> Matched:
    """Find the ends of all elements. words: what is known of them (see `reader.PageReader`); sheets: what the
    page's own style sheets say, where no word does. Raises ScanError."""
    size = len(pieces)
    no, none = [False] * size, [""] * size
    found = Matched([0] * size, no[:], no[:], no[:], none, no[:])
    stack: list[int] = []
    count: Counter[bytes] = Counter()

    def pop(at: int, has_end: bool) -> None:
        number = stack.pop()
        name = pieces[number].name
        count[name] -= 1
        found.close[number], found.has_end[number] = at, has_end
        shows = (
            found.is_block[number]
            or name not in UNSHOWN and not found.is_box(name, number) and found.has_block[number]
        )
        if stack and shows:
            found.has_block[stack[-1]] = True

    for at, piece in enumerate(pieces):
        if piece.what == "end_tag":
            depth = _ended(stack, pieces, piece.name) if count[piece.name] else 0
            while depth > 1:
                pop(at, False)
                depth -= 1
            if depth:
                found.is_end[at] = True
                pop(at, True)
            elif stack and piece.name in BLOCKS:
                found.has_block[stack[-1]] = True
        elif piece.what == "tag":
            enders = _ENDERS.get(piece.name)
            while enders and any(count[name] for name in enders):
                depth = _implied(stack, pieces, piece.name, enders)
                if not depth:
                    break
                for _ in range(depth):
                    pop(at, False)
            if words:
                around = pieces[stack[-1]] if stack else None
                found.reading[at] = _reading(piece, around, words)
            if sheets and not found.reading[at]:
                found.reading[at] = sheets.reading(piece, [pieces[number] for number in stack])
            found.is_block[at] = (
                piece.name in BLOCKS and found.reading[at] not in ("inline", "box")
            )
            if piece.is_empty:
                found.close[at] = at + 1
                if stack and found.is_block[at]:
                    found.has_block[stack[-1]] = True
            else:
                stack.append(at)
                count[piece.name] += 1
                if len(stack) > MOST_DEPTH:
                    raise ScanError(piece.start, f"more than {MOST_DEPTH} elements are open here")
    while stack:
        pop(size, False)
    return found


def _reading(piece: Piece, around: Piece | None, words: Mapping[str, str]) -> str:
    """How an element is read by the words that are known; "" if they say nothing of it."""
    names = _names_of(piece)
    outer = () if around is None else _names_of(around)
    found = (words.get(word) for word in (*(f"{o}>{n}" for o in outer for n in names), *names))
    return next(filter(None, found), "")


def _names_of(piece: Piece) -> list[str]:
    """What words may call an element: its name, and each of its classes with a dot before it."""
    classes = b" ".join(a.value for a in piece.attributes if a.name == b"class").lower().split()
    return [name.decode("utf-8", "replace") for name in (piece.name, *(b"." + c for c in classes))]


def _ended(stack: Sequence[int], pieces: Sequence[Piece], name: bytes) -> int:
    """How many open elements an end tag ends: all down to the one of its name; 0 if there is none."""
    bounds = _TABLE_BOUNDS if name in _IN_TABLES else _END_BOUNDS
    for depth, number in enumerate(reversed(stack[-_MOST_OPEN:]), 1):
        open_name = pieces[number].name
        if open_name == name:
            return depth
        if open_name in bounds:
            return 0
    return 0


def _implied(stack: Sequence[int], pieces: Sequence[Piece], name: bytes, enders: set[bytes]) -> int:
    """How many open elements end where another begins."""
    for depth, number in enumerate(reversed(stack[-_MOST_OPEN:]), 1):
        open_name = pieces[number].name
        if open_name in enders:
            return depth
        if name in _IN_TABLES:
            is_bound = open_name in _TABLE_BOUNDS
        else:
            is_bound = open_name in BOUNDS or open_name in BLOCKS and open_name not in _PASSED
        if is_bound:
            return 0
    return 0
