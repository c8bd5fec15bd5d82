"""Sequences as they occur in a file, and how they nest.

A *group* is a run of tokens with the gaps that are broken together. A group that must open (a body; a
list around a line comment) with only such groups around it is *fixed*: its lines and indents are
known before anything is measured.
"""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Sequence, Set

from stilo.layout.gaps import MID
from stilo.layout.match import Seed
from stilo.sheet.cascade import Style
from stilo.tree.flat import Tree

# Shared by groups that have none; never added to.
_NONE: list[int] = []
#: A sequence with more sequences than this around it, in one body, has one way to open: with two, each level would
#: double what is looked at. People do not nest so deeply, but programs do.
DEEP = 24


class Group:
    """A sequence: its node, style, and the gaps it owns with their parts.

    first, end: its tokens. around: number of the group around it. A gap is named by the token
    after it. forced: gaps that are new lines whatever fits. hard: the group cannot stand on one
    line; must_open: nor can it stay closed. bulky: hard for a body or a comment in it, which may
    change how it is laid out; what is opened because the author or a setting asks is laid out as
    if it did not fit. headed: it begins with another sequence, of which the further lines
    stand further in than its own.
    plain: once opened with an item a line, there is but one way to do so. own:
    its delimiters come and go with its breaks; opening: the token of the first, if so. needs: the
    group with such delimiters that must be opened, so that this one may be, or -1; home: the
    nearest such group, if no other brackets are nearer. shut: it could be opened only in brackets of its
    own, which never come. rows: the gaps at which its author began lines of several items, if these are to
    be kept. aligned: those at which its author began lines that stand under the first item, if there are such.
    holds: its author kept it closed around an aligned sequence. bracketed: such a one needs the delimiters of this
    one, which come and go elsewhere. stacked: its author gave each item a line, and it is kept so.
    deep: more than `DEEP` are around it. inner: the groups directly in it, in order.
    """

    inner = _NONE
    hard = must_open = fixed = bulky = headed = own = plain = shut = stacked = holds = bracketed = False
    rows: Sequence[int] | None = None
    aligned: Sequence[int] | None = None
    needs = home = opening = -1
    deep = False

    def __init__(
        self,
        tree: Tree,
        seed: Seed,
        style: Style,
        wrap: str,
        around: int,
        gaps: list[int],
        parts: list[int],
        forced: Set[int],
    ) -> None:
        self.node = seed.node
        self.hanging = seed.hanging
        self.style = style
        self.wrap = wrap
        self.around = around
        self.gaps = gaps
        self.parts = parts
        self.forced = forced
        first = bisect_left(tree.token_node, seed.node)
        self.first = min(first, gaps[0]) if gaps else 0
        self.end = tree.last_token.get(seed.node, first) + 1

    @property
    def is_unopened(self) -> bool:
        """Whether it is lines of items before the first of which there is no delimiter or header of its own."""
        is_lines = self.wrap == "stack-always" and not self.hanging
        return is_lines and self.parts[:1] == [MID]

    @property
    def is_as_authored(self) -> bool:
        """Whether its author set lines under its first item, or kept it closed around such a sequence."""
        return self.aligned is not None or self.holds

    def part_of(self, token: int) -> int:
        """How many of the group's gaps lie at or before a token."""
        return bisect_right(self.gaps, token)
