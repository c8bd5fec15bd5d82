"""The syntax tree as columns of plain integers.

Nodes stand in preorder. Tokens are the leaves. Between token i-1 and token i
lies gap i; it belongs to the lowest node that holds both, and the node right
after the leaf of token i-1 is that node's child which starts at token i.
Nothing but this is seen of the parser by the rest of the program.
"""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Iterator, Sequence, Set
from dataclasses import field
from functools import cached_property

from stilo.records import dataclass
from stilo.width import display_width

#: White space, as no language makes anything else of it than a gap.
BLANKS = b" \t\n\r\f\v"


@dataclass(frozen=True, kw_only=True)
class Tree:
    """A flat syntax tree over `data` (UTF-8 bytes); all positions are byte offsets.

    Per node: `kind` (a number of the grammar) and `parent`.
    Per token: `token_node` (its leaf), `token_start`, `token_end`.
    `last_token`: the last token of each node that is no leaf.
    `field`: node → number of the field of its parent that it stands in, where fields are
    asked for. `shape`: the kinds as the grammar's own tree has them, nodes without text
    included, with -1 where a node ends that has children: what a result must have too, or nothing
    where that is compared otherwise.
    soft: opening → closing token of brackets of their own, which may come and go. firm: opening tokens of
    those that are there and never go.
    inner: the kinds of nodes that have children. size: the number of the grammar's own nodes.
    is_full: none of those that were looked into was left out.
    spared: values that might have had such brackets, but stand on a short line: first token →
    last token, and the first one's number in `bare`, the tree with none but those of the source.
    is_sealed: brackets of their own, that are not in the source, never come. is_evened: some token of
    several words has other spaces in the source than in `texts`. known_texts: `texts`, where they need
    not be cut out of `data`, or are not what stands there. misread: where tokens begin in which the
    reader took a comment for a part of them. has_prose: it had prose, of which the words are tokens.
    spaced: those of them with white space in them.
    """

    data: bytes
    kind: list[int]
    parent: list[int]
    token_node: list[int]
    token_start: list[int]
    token_end: list[int]
    last_token: dict[int, int]
    shape: list[int]
    inner: Set[int]
    size: int
    is_full: bool
    soft: dict[int, int] = field(default_factory=dict)
    firm: Set[int] = frozenset()
    spared: dict[int, tuple[int, int]] = field(default_factory=dict)
    bare: Tree | None = None
    is_sealed: bool = False
    is_evened: bool = False
    field: dict[int, int] = field(default_factory=dict)
    known_texts: list[bytes] | None = None
    has_prose: bool = False
    spaced: tuple[bytes, ...] = ()
    misread: tuple[int, ...] = ()

    def between(self, token: int) -> bytes:
        """The text before a token, or, for the number of tokens, after the last one."""
        start = self.token_end[token - 1] if token else 0
        end = self.token_start[token] if token < len(self.token_start) else len(self.data)
        return self.data[start:end]

    def begins_line(self, token: int) -> bool:
        """Whether a line ends before a token, or it is the first."""
        return not token or b"\n" in self.between(token)

    @cached_property
    def solid(self) -> bytes:
        """The text without any white space."""
        return self.data.translate(None, BLANKS)

    @cached_property
    def texts(self) -> list[bytes]:
        """The text of each token."""
        if self.known_texts is not None:
            return self.known_texts
        data = self.data
        return [data[start:end] for start, end in zip(self.token_start, self.token_end)]

    def tokens_of(self, kinds: Set[int]) -> list[int]:
        """The tokens of some kinds, in order. Quick where there are few."""
        found: list[int] = []
        for kind in kinds:
            at = -1
            try:
                while True:
                    at = self.kind.index(kind, at + 1)
                    found.append(at)
            except ValueError:
                pass
        leaves, count = self.token_node, len(self.token_node)
        tokens = [(bisect_left(leaves, node), node) for node in sorted(found)]
        return [token for token, node in tokens if token < count and leaves[token] == node]

    def gap_right(self, token: int) -> int:
        """The highest node that starts at a token, below the node that owns the gap before it."""
        return self.token_node[token - 1] + 1 if token else 0

    def first(self, node: int) -> int:
        """Index of a node's first token."""
        return bisect_left(self.token_node, node)

    def last(self, node: int) -> int:
        """Index of a node's last token."""
        last = self.last_token.get(node)
        return bisect_left(self.token_node, node) if last is None else last

    def after(self, node: int) -> int:
        """The first node after a node's subtree."""
        last = self.last_token.get(node)
        return node + 1 if last is None else self.token_node[last] + 1

    def children(self, node: int) -> Iterator[int]:
        """The children of a node, in order."""
        child, end = node + 1, self.after(node)
        last_token, token_node = self.last_token, self.token_node
        while child < end:
            yield child
            last = last_token.get(child)
            child = child + 1 if last is None else token_node[last] + 1

    def child_kinds(self, node: int) -> list[int]:
        """The kinds of a node's children, in order."""
        kinds, token_node, last_of = self.kind, self.token_node, self.last_token.get
        last = last_of(node)
        final = node if last is None else token_node[last]
        child = node + 1
        found = []
        while child <= final:
            found.append(kinds[child])
            last = last_of(child)
            child = child + 1 if last is None else token_node[last] + 1
        return found

    def start(self, node: int) -> int:
        """Where the text of a node starts."""
        return self.token_start[bisect_left(self.token_node, node)]

    def end(self, node: int) -> int:
        """Where the text of a node ends."""
        last = self.last_token.get(node)
        return self.token_end[bisect_left(self.token_node, node) if last is None else last]

    def extent(self, node: int) -> tuple[int, int]:
        """Where the text of a node starts and ends."""
        first = bisect_left(self.token_node, node)
        return self.token_start[first], self.token_end[self.last_token.get(node, first)]

    def text(self, node: int) -> str:
        """The text of a node as it stands in the source."""
        start, end = self.extent(node)
        return self.data[start:end].decode()

    def token_text(self, token: int) -> bytes:
        """The text of a token."""
        return self.texts[token]

    def column(self, token: int, tab: int) -> int:
        """The column, from 0, at which a token begins. tab: columns that a tab takes."""
        start = self.token_start[token]
        line = self.data[self.data.rfind(b"\n", 0, start) + 1 : start]
        return display_width(line.expandtabs(tab).decode())

    def stand_alike(self, tokens: Sequence[int], tabs: Sequence[int]) -> int:
        """The columns that a tab takes if some tokens begin at the same column; 0 if they do not.

        tabs: how many columns it may take, the likelier first.
        """
        for tab in tabs:
            if len({self.column(token, tab) for token in tokens}) == 1:
                return tab
        return 0

    def source_text(self, token: int) -> bytes:
        """The text of a token as the source has it."""
        return self.data[self.token_start[token]:self.token_end[token]]
