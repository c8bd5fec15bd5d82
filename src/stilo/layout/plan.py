"""All that is decided of a file before measuring."""

from __future__ import annotations

from collections.abc import Mapping, Sequence, Set
from dataclasses import field
from functools import cached_property
from typing import NamedTuple

from stilo.layout.gaps import CLOSE, Gap, Rows
from stilo.layout.groups import Group
from stilo.layout.measures import AUTHOR_TABS, Measured
from stilo.layout.regions import Region
from stilo.records import dataclass
from stilo.sheet.cascade import Style
from stilo.tree.flat import Tree


#: What a directive to Stilo begins with, in a comment.
MARK = b"stilo:"


class Margin(NamedTuple):
    """The white space that lines begin with: its columns, its text, and what the block around has."""

    column: int
    text: bytes
    around: Margin | None = None


#: What has lines with a margin: a node, and whether it is meant as what hangs under its header.
Block = tuple[int, bool]
NO_MARGINS: Mapping[Block, Margin] = {}


class Tail(NamedTuple):
    """The end of a list: the separator, the token of the one that is there (or -1), the last
    token of the last item, whether a list wants one in which each item has a line, and the spaces before
    one to be added."""

    sign: bytes
    found: int
    item: int
    is_wanted: bool
    space: int = 0

    @property
    def written(self) -> bytes:
        """What is added after the last item."""
        return b" " * self.space + self.sign


@dataclass
class Plan:
    """All that is decided of a file before measuring.

    gap_row: per token, the row in `rows` of the node that the gap before it leads to. space: per
    token, spaces before it when no line breaks there. lines: gaps that are new lines in no
    sequence, with the innermost group and whether a comment asks for it. spaces: least blank
    lines where more than none. comments, opaque: tokens that are comments; that may hold line
    ends. trailing: comments that end a line of code. asked: gaps that are new lines because the
    author or a setting asks for it. tails: by closing delimiter, where the separator after the
    last item is the style's to decide. spare: such separators that go where their list stays
    closed → the delimiter after. notable: tokens whose gap is more than a place to break.
    regions: where other values hold than elsewhere. idle: tokens that do nothing at the end of a
    line. owned: groups whose delimiters come and go. margins: of blocks that keep their own. bound:
    comments that act on a line. lacking: first tokens of values that were spared brackets of their
    own, on lines that may not fit. short: bodies that may stand on one line since their author wrote them so.
    tabs: the columns that a tab of the source may take where its lines are aligned. tight: tokens before which no
    space stands, since the author wrote none at an operator → the operator.
    """

    tree: Tree
    rows: Rows
    row: list[int]
    gap_row: list[int]
    space: list[int]
    comments: list[int]
    opaque: list[int]
    notable: list[int]
    regions: Sequence[Region] = ()
    margins: Mapping[Block, Margin] = field(default_factory=dict)
    bound: Sequence[int] = ()
    groups: list[Group] = field(default_factory=list)
    owned: list[Group] = field(default_factory=list)
    lines: dict[int, tuple[int, bool]] = field(default_factory=dict)
    blanks: dict[int, int] = field(default_factory=dict)
    trailing: set[int] = field(default_factory=set)
    asked: set[int] = field(default_factory=set)
    tails: dict[int, Tail] = field(default_factory=dict)
    spare: dict[int, int] = field(default_factory=dict)
    measured: Measured | None = None
    idle: list[int] = field(default_factory=list)
    tight: dict[int, int] = field(default_factory=dict)
    lacking: list[int] = field(default_factory=list)
    short: Set[int] = frozenset()
    tabs: Sequence[int] = AUTHOR_TABS

    @cached_property
    def comment_set(self) -> frozenset[int]:
        """The tokens that are comments, to look them up."""
        return frozenset(self.comments)

    @cached_property
    def bound_set(self) -> frozenset[int]:
        """The comments that act on a line, to look them up."""
        return frozenset(self.bound)

    def room(self, token: int) -> int:
        """Columns to keep at the end of a line before the one that a token begins."""
        tail = self.tails.get(token)
        return len(tail.written) if tail is not None and tail.is_wanted else 0

    @cached_property
    def owners(self) -> Mapping[int, Group]:
        """Each gap that a group owns → the group; of several, the outermost."""
        found: dict[int, Group] = {}
        for group in self.groups:
            for token in group.gaps:
                found.setdefault(token, group)
        return found

    @cached_property
    def closed(self) -> Mapping[int, Group]:
        """Each gap before a closing delimiter → the group that it ends."""
        return {g.gaps[-1]: g for g in self.groups if g.parts and g.parts[-1] == CLOSE}

    @cached_property
    def idle_set(self) -> frozenset[int]:
        """The tokens that do nothing at the end of a line, to look them up."""
        return frozenset(self.idle)

    @cached_property
    def own_signs(self) -> frozenset[int]:
        """The tokens of brackets that come and go."""
        return frozenset(self.tree.soft) | frozenset(self.tree.soft.values())

    def style(self, token: int) -> Style:
        """What is declared for the node that the gap before a token leads to."""
        return self.rows.style[self.gap_row[token]]

    def ends_line(self, begin: int, token: int) -> bool:
        """Whether a line ends before a token, by the style, or by what the author wrote where the style leaves it so.

        begin: the first comment in that gap, or the token itself.
        """
        gap, tree = self.gap(token), self.tree
        return (
            gap.line
            or (
                gap.said.value == "authored"
                and b"\n" in tree.data[tree.token_end[begin - 1]:tree.token_start[token]]
            )
        )

    def code_from(self, token: int) -> int:
        """The token, or the first after it that is no comment; the last, if all are."""
        while token in self.comment_set and token + 1 < len(self.gap_row):
            token += 1
        return token

    def gap(self, token: int) -> Gap:
        """What the sheet says of the gap before a token."""
        return self.rows.gap[self.gap_row[token]]
