"""Rules meet nodes: each node gets its row, and the sequence it stands in is noted."""

from __future__ import annotations

from collections.abc import Sequence, Set
from typing import NamedTuple

from stilo.layout.gaps import HANGING, OUTSIDE, SEQUENCE, Gap, Place, Rows
from stilo.layout.regions import Region
from stilo.records import dataclass
from stilo.sheet.cascade import FIELD_SHIFT, VARIANT_SHIFT
from stilo.tree.flat import Tree


class Seed(NamedTuple):
    """A sequence that a group may grow from: its node and row, and the seed around it."""

    node: int
    row: int
    around: int
    hanging: bool


@dataclass(frozen=True)
class Matched:
    """Which rule each node meets, and the sequences that may become groups.

    row: per node, its row. group_of: per node the innermost seed, or -1 for a node without children that starts no
    sequence. hang_of: node that hangs → its seed. ends: seed → where it ends, if before its node. clear: per seed,
    whether its lines are sure: it is always opened, and so is all around it. opened: the seeds that are opened by a
    body alone. laden: bodies that might stand on one line, if they held no other. kept: bodies that may stand on one
    line since their author wrote them so. levels: per seed, how many lie around it within the innermost body.
    """

    row: list[int]
    group_of: list[int]
    seeds: list[Seed]
    hang_of: dict[int, int]
    ends: dict[int, int]
    clear: list[bool]
    opened: list[int]
    laden: set[int]
    kept: set[int]
    levels: list[int]

    def owner(self, tree: Tree, node: int, gap: Gap) -> int:
        """The number of the seed that a gap belongs to, which leads to a node."""
        return self.hang_of[node] if gap.of_right else self.group_of[tree.parent[node]]

    def innermost(self, tree: Tree, node: int) -> int:
        """The number of the innermost seed that a node starts or stands in."""
        while node >= 0 and self.group_of[node] < 0:
            node = tree.parent[node]
        return self.group_of[node] if node >= 0 else 0


def match(
    tree: Tree, rows: Rows, regions: Sequence[Region], opened_bodies: Set[int] = frozenset()
) -> Matched:
    """Give each node its row and its innermost seed: the automaton's inner loop.

    opened_bodies: where bodies begin that do not stand on one line, though their author wrote them so.
    """
    seeds = [Seed(0, 0, -1, False)]
    clear = [True]
    levels = [0]
    opened: list[int] = []
    laden: set[int] = set()
    short: set[int] = set()
    kept: set[int] = set()
    header_ends: dict[int, int] = {}
    row: list[int] = []
    group_of = [-1] * len(tree.kind)
    hang_of: dict[int, int] = {}
    if not tree.kind:
        return Matched(
            row, group_of, seeds, hang_of, header_ends, clear, opened, laden, kept, levels
        )
    within, beyond, onward = rows.within, rows.beyond, rows.onward
    new = tuple.__new__  # a third of the time of a call of the class
    starts, comment, short_when = rows.starts, rows.comment, rows.short
    place_of: list[Place | None] = [None] * len(tree.kind)  # per parent, of its next child
    kinds = tree.kind
    if tree.field:
        kinds = list(kinds)
        for node, number in tree.field.items():
            kinds[node] |= number << FIELD_SHIFT
    if regions:
        kinds = list(kinds)
        for region in regions:
            for node in region.nodes:
                kinds[node] = kinds[node] & ~(-1 << VARIANT_SHIFT) | region.variant << VARIANT_SHIFT
    # What holds for the family at hand; most nodes follow their previous sibling.
    current, place, shared = -1, rows.outside, 0
    for kind, parent in zip(kinds, tree.parent):
        if parent != current:
            place_of[current] = place
            current = parent
            known = place_of[parent]
            if known is None:  # this is its first child, and the parent the node before
                place = within[row[parent]]
                if group_of[parent] < 0:
                    group_of[parent] = shared
            else:
                place = known
            shared = group_of[parent]
        found = place.get(kind)
        if found is None:
            found = rows.row(place, kind, tree, len(row))
        row.append(found)
        following = onward[found]
        if following is not None:
            place = following
            continue
        node = len(row) - 1
        if (
            short_when[found]
            and _is_short(tree, rows, node, found)
            and not (opened_bodies and tree.token_start[tree.first(node)] in opened_bodies)
        ):
            if short_when[found] != "fits":
                kept.add(node)
            found = row[-1] = rows.shortened(place, found, kind)
            short.add(node)
            outer = 0 if rows.style[found]["nests"].value == "yes" else shared
            while outer:
                if seeds[outer].node in short:
                    laden.add(outer)
                outer = seeds[outer].around
        if not comment[found]:
            place = beyond[found]
        group = shared
        begins = starts[found]
        is_body = begins & OUTSIDE or node in short
        if is_body and node and _ends_header(tree, rows, seeds[group], node):
            header_ends[group] = tree.first(node)
            group = seeds[group].around
        if begins & HANGING:
            seeds.append(new(Seed, (node, found, group, True)))
            clear.append(begins & OUTSIDE > 0 and clear[group])
            levels.append(0 if begins & OUTSIDE else levels[group] + 1)
            group = hang_of[node] = len(seeds) - 1
        if begins & SEQUENCE:
            if begins & OUTSIDE and not clear[group]:
                # A plain sequence around a body must open; its lines are then sure as well.
                seed = seeds[group]
                if (
                    seed.node == parent
                    and rows.yields[seed.row]
                    and clear[seed.around]
                    and rows.style[found]["cling"].value == "none"
                ):
                    clear[group] = True
                    opened.append(group)
            seeds.append(new(Seed, (node, found, group, False)))
            clear.append(begins & OUTSIDE > 0 and clear[group])
            levels.append(0 if begins & OUTSIDE else levels[group] + 1)
            group = len(seeds) - 1
        group_of[node] = group
    return Matched(row, group_of, seeds, hang_of, header_ends, clear, opened, laden, kept, levels)


def _is_short(tree: Tree, rows: Rows, node: int, row: int) -> bool:
    """Whether a body holds no more than one item beside its delimiters, as it was written.

    A body that hangs has no delimiters, and what counts is whether it begins on its header's line.
    """
    when = rows.short[row]
    if rows.starts[row] & HANGING:
        if when != "fits" and b"\n" in tree.between(tree.first(node)):
            return False
        end = tree.after(node)
        child = tree.after(node + 1)
        while child < end:
            kind, after = tree.kind[child], tree.after(child)
            is_last_sign = after == end and kind in rows.kinds.signs  # it ends the one statement
            is_beside = kind in rows.comments and b"\n" not in tree.between(tree.first(child))
            if not (is_last_sign or is_beside):
                return False
            child = after
        return True
    children = tree.child_kinds(node)
    last = tree.last(node)
    while len(children) > 1 and children[-1] in rows.comments:  # after the delimiter
        children, last = children[:-1], last - 1
    items = len(children) - 2
    separator = rows.style[row]["separator"].value
    if items > 1 and separator != "none":
        items -= sum(map(children.count, rows.kinds.signs_of(str(separator))))
    if items > 1:
        return False
    if when == "fits" or items < 1:
        return True
    start, end = tree.token_start[tree.first(node)], tree.token_end[last]
    return b"\n" not in tree.data[start:end]


def _ends_header(tree: Tree, rows: Rows, header: Seed, node: int) -> bool:
    """Whether a body is the last child of a sequence: it then stands outside that sequence."""
    return (
        header.node == tree.parent[node]
        and header.around >= 0
        and not header.hanging
        and not rows.starts[header.row] & OUTSIDE
        and tree.last(header.node) == tree.last(node)
    )
