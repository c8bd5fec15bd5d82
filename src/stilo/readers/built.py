"""A text as a reader understands it that builds the flat tree itself."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence, Set

from stilo.edits import Edit
from stilo.errors import Fault
from stilo.readers.reader import Body, OneView, Parsed
from stilo.records import dataclass
from stilo.source import Source
from stilo.tree.flat import Tree


@dataclass(frozen=True)
class BuiltParsed(OneView):
    """A text with its tree (see `Parsed`).

    again: reads another text. comments: the kinds that are comments. error: where the text cannot be read,
    as an offset, and what is wrong there.
    """

    data: bytes
    tree: Tree
    again: Callable[[bytes], Parsed]
    comments: Set[int]
    error: tuple[int, str] | None = None

    @property
    def top(self) -> Tree:
        """The whole tree."""
        return self.tree

    @property
    def has_error(self) -> bool:
        """Whether some of the text could not be read."""
        return self.error is not None

    @property
    def size(self) -> int:
        """The number of nodes."""
        return len(self.tree.kind)

    def fault(self, source: Source, pairs: Mapping[str, str]) -> Fault:
        """The first error."""
        offset, message = self.error or (0, "")
        text = f"syntax error: {message}; the file is left as it was"
        return Fault(source.name, *source.position(offset), text)

    def leading_comments(self) -> list[str]:
        """The comments before all code."""
        found = []
        for text, leaf in zip(self.tree.texts, self.tree.token_node):
            if self.tree.kind[leaf] not in self.comments:
                break
            found.append(text.decode())
        return found

    def bodies(self, start: int, end: int, kinds: Set[int]) -> Sequence[Body]:
        """None: a text with errors has no tree to find them in."""
        return []

    def edited(self, data: bytes, edits: Sequence[Edit]) -> Parsed:
        """The text after some edits, read anew."""
        return self.again(data)

    def shape(self, inner: Set[int]) -> list[int]:
        """The shape of the tree."""
        return self.tree.shape

    def same_as(self, tree: Tree) -> bool:
        """Whether this text has the shape of another one's tree, node for node."""
        return self.tree.shape == tree.shape
