"""What is to change of the imports of a text: edits, and what each import has to do with them."""

from __future__ import annotations

from collections import Counter
from typing import NamedTuple

from stilo.edits import Edit
from stilo.order.imports import Import
from stilo.order.needs import Needs
from stilo.records import dataclass


class Change(NamedTuple):
    """What becomes of an import: offset in the source, what (a word for counts), a message, the setting
    that asks for it, and how many imports it is: those that follow it may share its fate. Of none, it is
    something else, and what is the code of its finding: a sign at the end of a statement, or a form."""

    offset: int
    what: str
    message: str
    setting: str
    imports: int = 1


@dataclass(frozen=True)
class Arrangement:
    """Edits of a text (offsets in `Source.data`), and the changes that they are for.

    headers: the comments that the style sets above groups; they come and go. places: start and end
    of imports in the text, and the offset of each in the new one. needs: what the text
    was found to need.
    """

    edits: tuple[Edit, ...] = ()
    changes: tuple[Change, ...] = ()
    headers: frozenset[bytes] = frozenset()
    places: tuple[tuple[int, int, int], ...] = ()
    needs: Needs = Needs()

    @property
    def counts(self) -> Counter[str]:
        """How many imports were moved, merged, …"""
        found: Counter[str] = Counter()
        for change in self.changes:
            if change.imports:
                found[change.what] += change.imports
        return found


def shown(item: Import) -> str:
    """An import as messages show it: of a long one its two ends, by which it differs from others."""
    text = " ".join(item.text.decode().split())
    short = f"{text[:20]}…{text[-37:]}" if len(text) > 58 else text
    return f'"{short}"'
