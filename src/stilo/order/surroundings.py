"""What is known around the words of a file: its tree, its sheet, and what modules offer it."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence

from stilo.order.catalogue import FILES, HOME, Catalogue
from stilo.order.imports import Import
from stilo.order.uses import Hiding, Name, look_up, present
from stilo.records import dataclass
from stilo.sheet.marks import Marks
from stilo.tree.flat import Tree


@dataclass(frozen=True)
class Surroundings:
    """A file's tree and what is known around it.

    marks: what the sheet says of names. inner: names that the module the file is of makes known in it;
    implicit: those that every file knows. Both come before what a weak star offers, or clash with it.
    """

    tree: Tree
    marks: Marks
    hiding: Hiding
    catalogue: Catalogue
    inner: frozenset[str]
    implicit: frozenset[str]

    def look_up(self, words: frozenset[str], items: Iterable[Import]) -> Mapping[str, Name]:
        """What is known of those of some words that stand in the text, but for its imports."""
        inside = sorted((item.start, item.end) for item in items)
        return look_up(present(words, self.tree), inside, self.tree, self.marks, self.hiding)


def inner_names(tree: Tree, top: Marks, catalogue: Catalogue) -> frozenset[str]:
    """The names that the module a file is of makes known in it, where the file says which that is.

    top: what the sheet says of imports.
    """
    found: frozenset[str] = frozenset()
    for node in top.children(0):
        for child in top.children(node):
            if top.word(child, "part") == "home":
                module = "".join(tree.text(child).split())
                found |= catalogue.names(module, HOME) or frozenset()
    return found


def implicit_names(modules: Sequence[str], catalogue: Catalogue) -> frozenset[str]:
    """The names of modules that every file knows."""
    return frozenset[str]().union(*(catalogue.names(m, FILES) or () for m in modules))
