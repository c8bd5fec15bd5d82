"""What the sheet says of each gap, decided once for each kind of neighbourhood.

A gap lies between two neighbouring children of the lowest node that holds
both. The children speak for their sides (`after`, `before`, `break`, `brace`,
`hang`), the node for what neither claims (`between`).
"""

from __future__ import annotations

from stilo.records import dataclass
from stilo.sheet.cascade import Cascade, Declared, NodeKey, Style
from stilo.tree.flat import Tree
from stilo.tree.kinds import Kinds
from stilo.tree.optional_brackets import OwnBrackets

#: The parts a gap can play in the sequence that owns it.
NONE, OPEN, MID, CLOSE, EMPTY = range(5)
#: Bits of a row's `starts`: the node begins a sequence of its own, hangs, and, since it is always
#: opened, stands outside a sequence that it ends.
SEQUENCE, HANGING, OUTSIDE = 1, 2, 4
#: Rows are kept by the kinds of no more children than this: those of long bodies hardly come again.
MOST_KINDS = 8
# How a hanging node is wrapped.
_HANGS = {
    "none": "", "line": "stack-always", "fits": "stack", "soft": "stack", "level": "stack"
}


@dataclass(frozen=True)
class Gap:
    """A decided kind of gap.

    space: spaces when on one line; apart: the same, if a comment stands there where nothing else
    does; part: its part in a sequence (NONE, OPEN, …); of_right: that
    sequence is the one of the node to the right; line: a new line whatever fits; blank: least
    blank lines; glued: known to be safe without a space; said, broken: what decided the space and
    the break; blanked: what asked for the blank lines.
    """

    space: int
    apart: int
    part: int
    of_right: bool
    line: bool
    blank: int
    glued: bool
    said: Declared
    broken: Declared
    blanked: Declared


class Place(dict[int, int]):
    """A place that nodes may stand in, and, by its packed key, the row of each there.

    around, beside: what the parent's state says around its children, and the previous sibling's
    beside it. branches: kinds that are told apart by conditions, with the first to ask, and the row
    of each state that the answers lead to; of those that only the kinds of their children tell
    apart, by_children has the row for these.
    """

    __slots__ = ("around", "beside", "branches", "by_children")

    def __init__(self, around: int, beside: int) -> None:
        super().__init__()
        self.around = around
        self.beside = beside
        self.branches: dict[int, tuple[int, dict[int, int]]] = {}
        self.by_children: dict[int, dict[tuple[int, ...], int]] = {}


class Rows:
    """The memo over kinds of node in their place, as columns by row.

    Columns: `within` (the place of its first child), `beyond` (of its next sibling), `onward` (the
    same, or None where it starts a sequence or is a comment), `gap` (before it), of that gap
    `space`, `tight` (no space, unless the tokens would run together, which they may), `plain_part`
    (its part in its sequence, where that is all there is to it), `needs_care` (there is more to
    it), `firm` (a new line whatever fits), `plain` (a sequence has but one way to open), `yields`
    (one that opens plainly around an item of many lines), `runs_on`, `is_run_on` (a leaf of this
    kind may join the next, the one before), `starts` (a sequence), `wrap`, `hang` (how it is
    wrapped if it hangs), `atom` (a short item), `flows_atoms` (a list that flows if all its items are
    such), `comment`, `opaque` (may hold line ends), `asks` (the sequence may open for what the author
    wrote or for the number of its items), `cell` (set in a column), `stays_tight` (where an operator
    stays without spaces), `tail` (of a gap before a closing delimiter: separator and whether one is
    wanted), `short`, `style`.

    A row is found by its place and its kind: after the first nodes of a file one look-up each.
    """

    def __init__(
        self, cascade: Cascade, kinds: Kinds, comments: frozenset[int], own: OwnBrackets | None
    ) -> None:
        self.cascade = cascade
        #: The kinds of nodes and tokens.
        self.kinds = kinds
        #: The brackets that values may get, in this language.
        self.own_brackets = own
        #: The kinds that are comments.
        self.comments = comments
        self._places: dict[tuple[int, int], Place] = {}
        outside = cascade.states[cascade.outside]
        self._edge = outside.beside
        #: Where a root stands.
        self.outside = self._place(outside.around, outside.beside)
        self.within: list[Place] = []
        self.beyond: list[Place] = []
        self.onward: list[Place | None] = []
        self.gap: list[Gap] = []
        self.space: list[int] = []
        self.tight: list[bool] = []
        #: First and last byte of a token and first byte of what stands after it, where one of
        #: the two is a word and they never run together.
        self.never_joined: set[tuple[int, int, int]] = set()
        self.needs_care: list[bool] = []
        #: Whether any of `needs_care`, `firm`, `tail`, `asks`, `shares`, `cell`, `stays_tight` says something.
        self.notable: list[bool] = []
        self.firm: list[bool] = []
        self.plain: list[bool] = []
        self.yields: list[bool] = []
        self.runs_on: list[bool] = []
        self.is_run_on: list[bool] = []
        self.plain_part: list[int] = []
        self.starts: list[int] = []
        self.wrap: list[str] = []
        self.hang: list[str] = []
        self.comment: list[bool] = []
        #: Comments that are lines for another program, and where a line begins that a node begins.
        self.directive: list[bool] = []
        self.margin: list[str] = []
        self.has_margins = False
        self.atom: list[bool] = []
        self.flows_atoms: list[bool] = []
        self.asks: list[bool] = []
        self.cell: list[bool] = []
        self.tail: list[tuple[bytes, str] | tuple[()]] = []
        self.short: list[str] = []
        #: Whether any row so far asks, is a cell, has a tail: most styles have none.
        self.has_asks = self.has_cells = self.has_tails = self.has_idle = False
        self.has_directive_columns = False
        self.has_spelling = self.has_inner_lines = self.has_brace_lines = False
        self.has_suites = self.has_tight = self.has_columns = False
        #: Whether some cell has no space before it, so that one is enough to set it in a column.
        self.has_close_cells = False
        self.stays_tight: list[str] = []
        self.idle: list[bool] = []
        self.shares: list[bool] = []
        self.has_shares = False
        #: Per row: quotes, letters and signs as they are wanted, whether the token fills its cell, where it stands
        #: in it, and how further lines move along.
        self.spelling: list[tuple[str, ...]] = []
        self.fills: list[bool] = []
        self.justified: list[str] = []
        self.has_fills = self.has_held = False
        self.inner_lines: list[str] = []
        self._states: list[int] = []
        self._shortened: dict[tuple[int, int, int], int] = {}
        self.opaque: list[bool] = []
        self.style: list[Style] = []
        self._row_ids: dict[tuple[int, int, int, int], int] = {}

    def _place(self, around: int, beside: int) -> Place:
        return self._places.setdefault((around, beside), Place(around, beside))

    def row(self, place: Place, packed: int, tree: Tree, node: int) -> int:
        """The row for a node with a key that its place does not answer."""
        by_children = place.by_children.get(packed)
        if by_children is not None:
            found = by_children.get(tuple(tree.child_kinds(node)))
            if found is not None:
                return found
        asked = place.branches.get(packed)
        if asked is None:
            key = NodeKey.of(packed)
            state = self.cascade.step(place.around, place.beside, key)
            if state >= 0:
                row = place[packed] = self._row_for(place.around, place.beside, state, key.kind)
                return row
            asked = place.branches[packed] = (state, {})
        branch, rows = asked
        first = self.cascade.branches[~branch]
        if first.alone is not None:  # most often one answer is enough
            way = first.ways.get(first.alone(tree, node))
            if way is not None:
                known = rows.get(way)
                if known is not None:
                    return known
                branch = way
        state, kinds = self.cascade.follow(branch, place.around, place.beside, packed, tree, node)
        known = rows.get(state)
        if known is None:
            kind = NodeKey.of(packed).kind
            known = rows[state] = self._row_for(place.around, place.beside, state, kind)
        if kinds is not None and len(kinds) <= MOST_KINDS and first.alone is None:
            place.by_children.setdefault(packed, {})[kinds] = known
        return known

    def space_behind(self, row: int, sign: bytes, tree: Tree, node: int) -> int:
        """The spaces before a token that is not there, if it stood after a node of a row.

        node: what does stand there; it answers what no kind tells.
        """
        place, most = self.beyond[row], 0
        for kind in self.kinds.signs_of(sign.decode()):
            found = place.get(kind)
            if found is None:
                found = self.row(place, kind, tree, node)
            most = max(most, self.space[found])
        return most

    def _row_for(self, around: int, beside: int, state: int, kind: int) -> int:
        key = (around, beside, state, kind)
        found = self._row_ids.get(key)
        if found is None:
            with self.cascade.lock:
                found = self._row_ids.get(key)
                if found is None:
                    found = self._row_ids[key] = self._new_row(around, beside, state, kind)
        return found

    def shortened(self, place: Place, row: int, packed: int) -> int:
        """The row of a body, of this row and key, that may stand on the line that opens it."""
        key = (place.around, place.beside, row)
        if key not in self._shortened:
            with self.cascade.lock:
                style = self.style[row]
                changes = {
                    "wrap": style["short"]._replace(value="stack"),
                    "cost": style["short"]._replace(value=1),
                }
                if style["hang"].value == "line":
                    changes["hang"] = style["short"]._replace(value="fits")
                elif style["brace"].value == "own-line":  # on the line of its head, or on its own
                    changes["hang"] = style["short"]._replace(value="level")
                    changes["brace"] = style["short"]._replace(value="auto")
                state = self.cascade.altered(self._states[row], changes)
                self._shortened[key] = self._new_row(
                    place.around, place.beside, state, NodeKey.of(packed).kind
                )
        return self._shortened[key]

    def _new_row(self, around: int, beside: int, state: int, kind: int) -> int:
        cascade = self.cascade
        own = cascade.states[state]
        style = cascade.styles[own.style]
        said_around, said_beside = cascade.said_around(around), cascade.said_beside(beside)
        gap = decide(said_around, said_beside, style)
        self.within.append(self._place(own.around, self._edge))
        self.beyond.append(self._place(around, own.beside))
        self._add_gap(gap, style, said_around, said_beside, kind)
        self._add_sequence(style, _starts(style, said_around, beside == self._edge))
        self._add_comment(style, kind)
        self._add_token(style, gap)
        self._add_separator(gap, said_around)
        self.onward.append(None if self.starts[-1] or self.comment[-1] else self.beyond[-1])
        notes = (self.needs_care, self.firm, self.asks, self.shares, self.cell, self.tail)
        is_noted = self.stays_tight[-1] != "nowhere" or any(column[-1] for column in notes)
        self.notable.append(is_noted)
        self._states.append(state)
        self.style.append(style)
        return len(self.style) - 1

    def _add_gap(
        self, gap: Gap, style: Style, said_around: Style, said_beside: Style, kind: int
    ) -> None:
        """Add to the columns that say something of the gap before a node."""
        self.gap.append(gap)
        self.space.append(gap.space)
        may_join = gap.space == 0 and not gap.glued
        self.tight.append(may_join and kind not in self.kinds.never_joins)
        is_part = gap.part not in (NONE, EMPTY)
        is_plain = not (gap.of_right or gap.line or gap.blank) and gap.part != EMPTY
        self.plain_part.append(gap.part if is_plain else NONE)
        may_end_line = gap.line or gap.said.value == "authored" and gap.part == NONE
        self.needs_care.append(not is_plain and is_part or may_end_line)
        hangs = gap.of_right and style["hang"].value == "line"
        always = not gap.of_right and said_around["wrap"].value == "stack-always"
        self.firm.append(is_part and (hangs or always) or gap.line)
        authored = said_around["authored"].value
        is_authored = authored in ("stack", "yes", "rows") and gap.part == OPEN
        is_line = authored == "lines" and gap.part == MID
        is_counted = bool(said_around["line-most"].value) and gap.part == MID
        self.asks.append(not gap.of_right and (is_authored or is_line or is_counted))
        self.has_asks |= self.asks[-1]
        self.shares.append(said_beside["line-sharing"].value == "keep" and gap.part == MID)
        self.has_shares |= self.shares[-1]

    def _add_separator(self, gap: Gap, said_around: Style) -> None:
        """Add to the column that says which separator a last item has."""
        sign, mode = str(said_around["separator"].value), str(said_around["trailing"].value)
        has_tail = gap.part == CLOSE and sign != "none" and mode != "keep"
        self.tail.append((sign.encode(), mode) if has_tail else ())
        self.has_tails |= has_tail

    def _add_sequence(self, style: Style, starts: int) -> None:
        """Add to the columns that say how a node's children are laid out, and where the node hangs."""
        wrap = style["wrap"].value
        self.starts.append(starts)
        self.wrap.append(str(wrap))
        self.hang.append(_HANGS[str(style["hang"].value)])
        self.plain.append(opens_plainly(style))
        self.yields.append(self.plain[-1] and style["grant"].value == "none")
        self.flows_atoms.append(style["atoms"].value == "flow" and wrap == "stack")
        short = str(style["short"].value) if starts & OUTSIDE else "never"
        self.short.append("" if short == "never" else short)
        self.margin.append(str(style["margin"].value))
        self.has_margins |= self.margin[-1] != "block"
        self.has_brace_lines |= style["open"].value == "brace-line"
        self.has_suites |= (style["hang"].value, wrap) == ("line", "stack-always")

    def _add_comment(self, style: Style, kind: int) -> None:
        """Add to the columns that say which tokens are comments, and which may join their neighbours."""
        is_comment = style["comment"].value != "none"
        self.comment.append(is_comment)
        self.directive.append(style["comment"].value == "directive")
        self.has_directive_columns |= any(
            style[name].value != "keep" for name in ("value-column", "join-column")
        )
        self.runs_on.append(not is_comment and kind not in self.kinds.never_goes_on)
        self.is_run_on.append(not is_comment and kind not in self.kinds.never_joins)
        self.opaque.append(is_comment or style["token"].value == "whole")

    def _add_token(self, style: Style, gap: Gap) -> None:
        """Add to the columns that say how a token is written, and where it is aligned."""
        self.atom.append(style["atom"].value == "yes")
        self.idle.append(style["idle"].value == "yes")
        self.has_idle |= self.idle[-1]
        self.cell.append(style["column"].value != "no")
        self.has_cells |= self.cell[-1]
        self.has_columns |= style["column"].value == "yes"
        self.has_close_cells |= self.cell[-1] and not gap.space
        self.stays_tight.append(str(style["tight"].value))
        self.has_tight |= self.stays_tight[-1] != "nowhere"
        spelling = tuple(str(style[name].value) for name in ("quotes", "letters", "sign"))
        self.spelling.append(spelling)
        self.has_spelling |= spelling != ("keep", "keep", "keep")
        self.fills.append(style["fill"].value != "no")
        self.justified.append(str(style["justify"].value))
        self.has_fills |= self.fills[-1] or self.justified[-1] != "left"
        self.has_held |= style["holds"].value != "none"
        self.inner_lines.append(str(style["inner-lines"].value))
        self.has_inner_lines |= self.inner_lines[-1] != "keep"


def _starts(style: Style, said_around: Style, is_first: bool) -> int:
    """What a node begins: SEQUENCE, HANGING, OUTSIDE, or several. is_first: it is the first child."""
    spine, wrap = style["spine"].value, style["wrap"].value
    is_sequence_around = said_around["wrap"].value not in ("none", "row")
    joined = (
        (is_first or style["joins"].value == "yes")
        and is_sequence_around
        and spine != "none"
        and spine == said_around["spine"].value
    )
    starts = 0
    if wrap not in ("none", "row") and not joined:
        starts |= SEQUENCE
        if wrap == "stack-always" and opens_plainly(style):
            starts |= OUTSIDE
    if style["hang"].value != "none":
        starts |= HANGING
        if style["hang"].value == "line":
            starts |= OUTSIDE
    return starts


def opens_plainly(style: Style) -> bool:
    """Whether a sequence, once it must open with an item a line, has but one way to do so."""
    wrap = style["wrap"].value
    return (
        wrap in ("flow", "stack", "stack-always")
        and style["keep"].value == "none"
        and style["align"].value != "yes"
        and style["open"].value in ("new-line", "brace-line", "beside")
        and (style["inner-line"].value == "no" or wrap == "stack-always")
    )


def decide(around: Style, left: Style, right: Style) -> Gap:
    """The gap between two neighbours within a node. Pure; see the module's text."""
    part, broken = _part(around, left, right)
    of_right = False
    if right["hang"].value != "none" and part == NONE:
        part, broken, of_right = OPEN, right["hang"], True
    elif part != EMPTY and around["wrap"].value in ("none", "row"):
        part = NONE
    said = _said(around, left, right)
    line = said.value == "line" and part in (NONE, MID)
    if said is around["between"]:
        line = False
    if line and part == NONE:
        broken = said
    apart = 0 if said.value in ("none", "glued") else 1
    glued = said.value == "glued"
    if part == EMPTY:  # nothing stands between the delimiters, so nothing keeps them apart
        said = broken
    space = 0 if part == EMPTY else apart
    blanked = max(left["blank-after"], right["blank-before"], key=lambda d: int(d.value))
    return Gap(space, apart, part, of_right, line, int(blanked.value), glued, said, broken, blanked)


def _part(around: Style, left: Style, right: Style) -> tuple[int, Declared]:
    after, before = left["break"], right["break"]
    if before.value == "never" or after.value == "never":
        return NONE, before if before.value == "never" else after
    if after.value == "open":
        return (EMPTY if before.value == "close" else OPEN), after
    if before.value == "close":
        return CLOSE, before
    if before.value == "before":
        return MID, before
    if after.value == "after":
        return MID, after
    if before.value in ("after", "open") or after.value in ("before", "close"):
        return NONE, before if before.value in ("after", "open") else after
    if around["between"].value == "line":
        return MID, around["between"]
    return NONE, around["between"]


def _said(around: Style, left: Style, right: Style) -> Declared:
    """The strongest of what the two sides say, or what lies between children."""
    spoken = [d for d in (left["after"], right["before"]) if d.value != "auto"]
    brace = right["brace"]
    if brace.value == "same-line":
        spoken.append(Declared("space", brace.source, brace.strength))
    elif brace.value != "auto":
        return Declared("line", brace.source, brace.strength)
    if not spoken:
        return around["between"]
    return max(spoken, key=lambda declared: declared.strength)
