"""Long strings in pieces: split after spaces where they do not fit on their line, and joined again where they do.

A sheet says which strings may stand in pieces and what joins these: nothing, or an operator (`joined-by`). Where a
piece comes to stand is known once the text is laid out; so the text is laid out with pieces on trial, until each of
them fills its line.
"""

from __future__ import annotations

import re
from bisect import bisect_right
from collections.abc import Callable, Iterator, Mapping, Sequence
from itertools import accumulate, pairwise
from typing import NamedTuple

from stilo.edits import Edit, moved
from stilo.layout.match import match
from stilo.layout.render import Rendered
from stilo.layout.spelling import STRING
from stilo.order.changes import Arrangement
from stilo.order.passes import Ordered, new_lines, rewritten
from stilo.order.text import Text
from stilo.patterns import compiled
from stilo.records import dataclass
from stilo.sheet.cascade import Style
from stilo.sheet.properties import Value
from stilo.source import LineRange
from stilo.support import Form
from stilo.tree.flat import Tree
from stilo.width import display_width

#: The most pieces that one string is split into: a longer one is data, and stays.
MOST_PIECES = 100
#: How often a text is laid out on trial. Nearly all pieces fill their lines after two.
TRIALS = 6
#: What cannot be parted from what follows: an escape that ends a line of what is shown, and one that may go on.
_OPEN_END = re.compile(rb"(?:\\n|\\)\Z")
#: What joins strings that stand beside each other.
BESIDE = "beside"


class LaidOut(NamedTuple):
    """A layout of a text: the tree that was laid out, the result, and which gaps were asked for (None: all)."""

    tree: Tree
    rendered: Rendered
    touched: Sequence[int] | None


#: Lays a text out, or the statements in some of its lines.
LayOut = Callable[[Text, "Sequence[LineRange] | None"], LaidOut]


class _Piece(NamedTuple):
    """A string as one token of the text: the letters before its quotes, its quote, and what is in it."""

    letters: bytes
    quote: bytes
    inner: bytes

    @classmethod
    def of(cls, text: bytes) -> _Piece | None:
        """None of a string of another sort, such as one in three quotes, or of several lines."""
        found = STRING.fullmatch(text)
        if found is None or len(found[2]) > 1 or b"\n" in text:
            return None
        bare = re.sub(rb"\\.", b"", found[3])
        return None if found[2] in bare else cls(*found.groups())

    @property
    def text(self) -> bytes:
        return self.letters + self.quote + self.inner + self.quote


@dataclass(frozen=True)
class _String:
    """A string of the text. tokens: its pieces; present: their texts. whole: all of them as one. joint: what stands
    between two pieces. setting: what asks for other pieces. holes: finds what is not cut."""

    tokens: tuple[int, ...]
    present: tuple[bytes, ...]
    whole: _Piece
    joint: bytes
    setting: str
    holes: re.Pattern[bytes] | None


class _Place(NamedTuple):
    """Where a string stands in a layout: the columns of its first piece and of the further ones; the columns of the
    sign after each piece, of what cannot be parted from the last one, and of the sign after that."""

    first: int
    further: int
    sign: int
    behind: int
    sign_behind: int


def put_pieces(
    text: Text,
    values: Mapping[str, Value],
    lines: Sequence[LineRange] | None,
    left: Sequence[range],
    lay_out: LayOut,
) -> Ordered | None:
    """The text with its long strings in pieces as a style asks for; None if that changes nothing.

    lines: only strings in statements that reach into these. left: runs of gaps that stay as they are. Raises
    UnsafeResult.
    """
    strings = list(_strings(text, values, left))
    if strings and lines is not None:
        tree, _, touched = lay_out(text, lines)
        asked = {tree.token_start[gap] for gap in touched or () if gap < len(tree.token_start)}
        strings = [s for s in strings if text.tree.token_start[s.tokens[0]] in asked]
    if not strings:
        return None
    pieces = _settled(text, strings, values, lines, lay_out)
    forms = []
    for string, wanted in zip(strings, pieces):
        if wanted != string.present:
            edit, message = _edit(text.tree, string, wanted), _message(string.present, wanted)
            forms.append(Form(edit.start, (edit,), message, string.setting))
    check = text.language.support.check
    return rewritten(
        text,
        forms,
        "pieces",
        "its long strings in these pieces",
        lambda new: (
            _meaning(new, values) == _meaning(text, values)
            and (check is None or not check(text.source.raw, new.source.raw, False))
        ),
    )


def _message(present: Sequence[bytes], wanted: Sequence[bytes]) -> str:
    if len(wanted) == 1:
        return f"{len(present)} pieces of a string fit on one line"
    if len(present) == 1:
        return f"the string does not fit on its line: {len(wanted)} pieces wanted"
    return f"the {len(present)} pieces of this string do not fill their lines: {len(wanted)} pieces wanted"


# Finding strings


def _strings(text: Text, values: Mapping[str, Value], left: Sequence[range]) -> Iterator[_String]:
    """The strings that a style asks to be in other pieces, where that is needed."""
    tree, language = text.tree, text.language
    styles = _styles(text, values)
    stay = {token for gaps in left for token in gaps}
    for run in _runs(tree, styles):
        style = styles[run[0]]
        mode, holes = style["pieces"].value, str(style["holes"].value)
        if mode == "keep" or run[0] in stay:
            continue
        found = None if holes == "none" else compiled(holes.encode(), re.DOTALL, language.is_ours)
        joiner = _joiner(style)
        joint = b" " if joiner == BESIDE else b" %s " % joiner.encode()
        for tokens, whole in _wholes(tree, run, mode == "refill"):
            present = tuple(tree.texts[token] for token in tokens)
            yield _String(tokens, present, whole, joint, style["pieces"].setting, found)


def _styles(text: Text, values: Mapping[str, Value]) -> dict[int, Style]:
    """What is declared of each of the strings that may stand in pieces, by token."""
    tree, rows = text.tree, text.language.rows(values)
    row = match(tree, rows, ()).row
    is_joined = [_joiner(style) != "none" for style in rows.style]
    return {
        token: rows.style[row[leaf]]
        for token, leaf in enumerate(tree.token_node)
        if is_joined[row[leaf]]
    }


def _joiner(style: Style) -> str:
    return str(style["joined-by"].value)


def _runs(tree: Tree, styles: Mapping[int, Style]) -> Iterator[list[int]]:
    """The strings that are pieces of one, in order."""
    run: list[int] = []
    for token, style in styles.items():
        joiner = _joiner(style)
        if run and _joiner(styles[run[0]]) == joiner and _is_next(tree, run[-1], token, joiner):
            run.append(token)
            continue
        if run:
            yield run
        run = [token]
    if run:
        yield run


def _is_next(tree: Tree, one: int, other: int, joiner: str) -> bool:
    """Whether two strings are joined: side by side, or as operands of a sign of which one ends the left operand."""
    if joiner == BESIDE:
        return other == one + 1
    if other != one + 2 or tree.texts[one + 1] != joiner.encode():
        return False
    leaf, parent, kind = tree.token_node, tree.parent, tree.kind
    around = parent[leaf[other]]
    operand = around + 1
    if parent[leaf[one + 1]] != around or tree.last(around) != other:
        return False
    if operand == leaf[one]:
        return True
    is_same_sign = kind[operand] == kind[around] and tree.texts[one - 1] == joiner.encode()
    return is_same_sign and parent[leaf[one]] == operand and tree.last(operand) == one


def _wholes(
    tree: Tree, run: Sequence[int], refills: bool
) -> Iterator[tuple[tuple[int, ...], _Piece]]:
    """The strings of a run, each with its pieces as one. refills: pieces that were split after a space are joined."""
    tokens: list[int] = []
    whole: _Piece | None = None
    for token in run:
        piece = _Piece.of(tree.texts[token])
        joined = None
        if refills and whole is not None and piece is not None:
            joined = _joined(whole, piece)
        if joined is not None:
            tokens.append(token)
            whole = joined
            continue
        if whole is not None:
            yield tuple(tokens), whole
        tokens, whole = [token], piece
    if whole is not None:
        yield tuple(tokens), whole


def _joined(one: _Piece, other: _Piece) -> _Piece | None:
    """Two pieces as one; None where their author did not split them after a space, or their quotes differ."""
    is_led = other.inner.startswith(b" ") and not one.inner.endswith(b" ")
    if is_led:
        may = _may_part(one.inner + b" ", other.inner[1:])
    else:
        may = _may_part(one.inner, other.inner)
    if one.letters != other.letters or not may:
        return None
    quote = one.quote
    if one.quote != other.quote:
        if not re.search(rb"[\"']", one.inner):
            quote = other.quote
        elif re.search(rb"[\"']", other.inner):
            return None
    return _Piece(one.letters, quote, one.inner + other.inner)


def _may_part(before: bytes, after: bytes) -> bool:
    """Whether a string may be split between two texts: after a space, and before a word."""
    solid = before.rstrip(b" ")
    is_at_space = before != solid and bool(after) and not after.startswith(b" ")
    return is_at_space and bool(solid) and _OPEN_END.search(solid) is None


# Trials


@dataclass
class _Trial:
    """A string on trial. pieces: those of now. place: where it stood in the layout that these were chosen by.
    is_given_up: pieces do not help it."""

    string: _String
    pieces: tuple[bytes, ...]
    place: _Place | None = None
    is_given_up: bool = False

    def choose(
        self, rendered: Rendered, columns: Sequence[int], tokens: Sequence[int], width: int
    ) -> None:
        """Choose the pieces by a layout. tokens: those of the pieces of now in it."""
        if self.is_given_up:
            return
        if len(tokens) > 1 and not _are_apart(rendered, tokens):  # no line can break there
            self.is_given_up, self.pieces = True, self.string.present
            return
        self.place = _place(rendered, columns, tokens, self)
        self.pieces = _filled(self.string, self.place, width)


def _settled(
    text: Text,
    strings: Sequence[_String],
    values: Mapping[str, Value],
    lines: Sequence[LineRange] | None,
    lay_out: LayOut,
) -> list[tuple[bytes, ...]]:
    """The pieces of each string, so that in the layout each but the last fills its line."""
    width, tab = int(values["width"]), int(values["tab-width"])
    trials = [_Trial(string, (string.whole.text,)) for string in strings]
    for _ in range(TRIALS):
        before = [trial.pieces for trial in trials]
        found = _laid_out(text, strings, before, lines, lay_out)
        if found is None:
            return [string.present for string in strings]
        edits, (tree, rendered, _touched) = found
        columns = _columns(rendered, tab)
        for trial in trials:
            tokens = _tokens_of(text.tree, trial, edits, tree)
            trial.choose(rendered, columns, tokens, width)
        if before == [trial.pieces for trial in trials]:
            break
    return [trial.pieces for trial in trials]


def _laid_out(
    text: Text,
    strings: Sequence[_String],
    wanted: Sequence[tuple[bytes, ...]],
    lines: Sequence[LineRange] | None,
    lay_out: LayOut,
) -> tuple[list[Edit], LaidOut] | None:
    """The text laid out with these pieces, and the edits that put them; None if it cannot be read so."""
    edits = [
        _edit(text.tree, string, pieces)
        for string, pieces in zip(strings, wanted)
        if pieces != string.present
    ]
    new = text
    if edits:
        raw = text.raw_edits(edits)
        edited = text.edited(edits, raw, False)
        if edited is None:
            return None
        new = edited
        lines = new_lines(Ordered(new, Arrangement(tuple(edits)), raw, []), text.source, lines)
    return edits, lay_out(new, lines)


def _edit(tree: Tree, string: _String, pieces: Sequence[bytes]) -> Edit:
    start, end = tree.token_start[string.tokens[0]], tree.token_end[string.tokens[-1]]
    return Edit(start, end, string.joint.join(pieces))


def _tokens_of(old: Tree, trial: _Trial, edits: Sequence[Edit], tree: Tree) -> list[int]:
    """The tokens of the pieces of a string in the tree that was laid out."""
    string, pieces = trial.string, trial.pieces
    if pieces == string.present:
        starts = [moved(old.token_start[token], edits) for token in string.tokens]
    else:
        start = moved(old.token_start[string.tokens[0]], edits)
        lengths = [len(piece) + len(string.joint) for piece in pieces[:-1]]
        starts = list(accumulate(lengths, initial=start))
    return [bisect_right(tree.token_start, at) - 1 for at in starts]


def _columns(rendered: Rendered, tab: int) -> list[int]:
    """The column at which each token of a result begins, from 0."""
    column, found = 0, []
    for gap, token in zip(rendered.gaps, rendered.tokens):
        _, end, margin = gap.rpartition(b"\n")
        column = len(margin.expandtabs(tab)) if end else column + len(gap)
        found.append(column)
        _, end, last = token.rpartition(b"\n")
        column = _width(last) if end else column + _width(token)
    return found


def _width(text: bytes) -> int:
    return display_width(text.decode())


def _are_apart(rendered: Rendered, tokens: Sequence[int]) -> bool:
    """Whether each piece stands on another line than the one before it."""
    return all(
        any(b"\n" in rendered.gaps[token] for token in range(one + 1, other + 1))
        for one, other in pairwise(tokens)
    )


def _place(
    rendered: Rendered, columns: Sequence[int], tokens: Sequence[int], trial: _Trial
) -> _Place:
    """Where the pieces of a string on trial stand in a layout. tokens: those of the pieces in it."""
    first, last = tokens[0], tokens[-1]
    behind = _width(rendered.tokens[last]) - _width(trial.pieces[-1])  # a separator that the layout adds
    following = last + 1
    while following < len(rendered.tokens) and not rendered.gaps[following]:
        behind += _width(rendered.tokens[following])
        following += 1
    if trial.place is not None:
        sign_behind = trial.place.sign_behind  # more may share the line of the last piece now
    else:
        sign_behind = _sign_at(rendered, following, trial.string.joint)
    further, sign = first, 0
    if len(tokens) > 1:
        further, sign = tokens[1], _sign_at(rendered, first + 1, trial.string.joint)
    return _Place(columns[first], columns[further], sign, behind, sign_behind)


def _sign_at(rendered: Rendered, token: int, joint: bytes) -> int:
    """The columns of a sign that joins strings, if that is the next token of a line; else 0."""
    is_sign = token < len(rendered.tokens) and rendered.tokens[token] == joint.strip()
    if not is_sign or b"\n" in rendered.gaps[token]:
        return 0
    return len(rendered.gaps[token]) + len(rendered.tokens[token])


def _filled(string: _String, place: _Place, width: int) -> tuple[bytes, ...]:
    """The pieces of a string: each but the last as long as its line permits, at least a word."""
    whole, cuts = string.whole, list(_cuts(string.whole.inner, string.holes))
    quotes = len(whole.letters) + 2
    borders = [0, *cuts, len(whole.inner)]
    ends = list(accumulate((_width(whole.inner[a:b]) for a, b in pairwise(borders)), initial=0))
    pieces, at = [], 0
    while at < len(cuts):
        room = width - quotes - (place.further if at else place.first) + ends[at]
        if ends[-1] + place.behind + place.sign_behind <= room:
            break
        last = max(at + 1, bisect_right(ends, room - place.sign, at, len(cuts) + 1) - 1)
        pieces.append(whole.inner[borders[at]:borders[last]])
        at = last
    pieces.append(whole.inner[borders[at]:])
    if len(pieces) > MOST_PIECES:
        return (whole.text,)
    return tuple(whole._replace(inner=inner).text for inner in pieces)


def _cuts(inner: bytes, holes: re.Pattern[bytes] | None) -> Iterator[int]:
    """Where a string may be split."""
    spans = [found.span() for found in holes.finditer(inner)] if holes is not None else []
    starts = [start for start, _ in spans]
    for found in re.finditer(rb" +(?=[^ ])", inner):
        at = found.end()
        number = bisect_right(starts, at) - 1
        is_in_hole = number >= 0 and starts[number] < at < spans[number][1]
        solid = found.start()
        if solid and not is_in_hole and _OPEN_END.search(inner, max(0, solid - 2), solid) is None:
            yield at


# Check


def _meaning(text: Text, values: Mapping[str, Value]) -> tuple[list[object], list[int]]:
    """The tokens of a text and the kinds of its nodes, with all pieces of a string as one."""
    tree = text.tree
    said: list[object] = list(tree.texts)
    gone_tokens, gone = set[int](), set[int]()
    for run in _runs(tree, _styles(text, values)):
        parts: list[tuple[bytes, bytes]] = []
        for token in run:
            piece = _Piece.of(tree.texts[token])
            letters, inner = (
                (b"", tree.texts[token]) if piece is None else (piece.letters, piece.inner)
            )
            if parts and piece is not None and parts[-1][0] == letters:
                parts[-1] = (letters, parts[-1][1] + inner)
            else:
                parts.append((letters, inner))
        said[run[0]] = tuple(parts)
        for one, other in pairwise(run):
            gone_tokens.update(range(one + 1, other + 1))
            if other > one + 1:
                gone.add(tree.parent[tree.token_node[other]])
        around = tree.parent[tree.token_node[run[0]]]
        is_beside = len(run) > 1 and run[1] == run[0] + 1
        if is_beside and tree.first(around) == run[0] and tree.last(around) == run[-1]:
            gone.add(around)
    gone.update(tree.token_node[token] for token in gone_tokens)
    texts = [said[token] for token in range(len(said)) if token not in gone_tokens]
    return texts, [kind for node, kind in enumerate(tree.kind) if node not in gone]
