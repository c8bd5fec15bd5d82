"""Rules meet nodes: each node gets its row, and the sequence it stands in is noted."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import NamedTuple

from stilo.layout.gaps import HANGING, OUTSIDE, SEQUENCE, Gap, Place, Rows
from stilo.layout.regions import Region
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
    """Per node its row and innermost seed; the seeds; the seed of each node that hangs.

    ends: where a seed ends before its node does. clear: of each seed, whether its lines are sure:
    it is always opened, and so is all around it. opened: those of them that are opened by a body
    in them alone. laden: bodies that might stand on one line, were there no other in them.
    """

    row: list[int]
    group_of: list[int]
    seeds: list[Seed]
    hang_of: dict[int, int]
    ends: dict[int, int]
    clear: list[bool]
    opened: list[int]
    laden: set[int]

    def owner(self, tree: Tree, node: int, gap: Gap) -> int:
        """The number of the seed that a gap belongs to, which leads to a node."""
        return self.hang_of[node] if gap.of_right else self.group_of[tree.parent[node]]


def match(tree: Tree, rows: Rows, regions: Sequence[Region]) -> Matched:
    """Give each node its row and its innermost seed: the automaton's inner loop."""
    seeds = [Seed(0, 0, -1, False)]
    clear = [True]
    opened: list[int] = []
    laden: set[int] = set()
    short: set[int] = set()
    header_ends: dict[int, int] = {}
    row: list[int] = []
    group_of: list[int] = []
    hang_of: dict[int, int] = {}
    if not tree.kind:
        return Matched(row, group_of, seeds, hang_of, header_ends, clear, opened, laden)
    within, beyond, special = rows.within, rows.beyond, rows.special
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
            place = within[row[parent]] if known is None else known
            shared = group_of[parent]
        found = place.get(kind)
        if found is None:
            found = rows.row(place, kind, tree, len(row))
        row.append(found)
        if not special[found]:
            place = beyond[found]
            group_of.append(shared)
            continue
        node = len(row) - 1
        if short_when[found] and _is_short(tree, rows, node, found):
            found = row[-1] = rows.shortened(place, found, kind)
            short.add(node)
            outer = shared
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
            group = len(seeds) - 1
        group_of.append(group)
    return Matched(row, group_of, seeds, hang_of, header_ends, clear, opened, laden)


def _is_short(tree: Tree, rows: Rows, node: int, row: int) -> bool:
    """Whether a body holds no more than one item beside its delimiters, as it was written.

    A body that hangs has no delimiters, and what counts is whether it begins on its header's line.
    """
    when = rows.short[row]
    if rows.starts[row] & HANGING:
        children = list(tree.children(node))
        if len(children) > 1 and tree.kind[children[-1]] in rows.kinds.signs:
            children.pop()  # it ends the one statement
        first = tree.first(children.pop(0))
        return (
            (when == "fits" or b"\n" not in tree.between(first))
            and all(
                tree.kind[child] in rows.comments and b"\n" not in tree.between(tree.first(child))
                for child in children
            )
        )
    items = len(tree.child_kinds(node)) - 2
    if items > 1:
        return False
    if when == "fits" or items < 1:
        return True
    start, end = tree.token_start[tree.first(node)], tree.token_end[tree.last(node)]
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
