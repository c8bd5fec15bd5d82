"""What a text needs of its imports, as the text itself says."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import field

from stilo.order.expand import Ambiguity
from stilo.order.imports import Import
from stilo.order.shorten import Shortened
from stilo.records import dataclass


@dataclass(frozen=True)
class Needs:
    """What becomes of entries of imports, by their offsets.

    gone: those that nothing refers to. stars: stars, with the names that are to be written for them.
    shortened: paths in the code that are to be cut to their names, and what is to be imported for that.
    ambiguous, unknown: why stars stay: names that several modules offer, and imports from modules of
    which nothing is known. unseen: imports that stay since the text alone does not show whether it needs
    them.
    """

    gone: frozenset[int] = frozenset()
    stars: Mapping[int, tuple[str, ...]] = field(default_factory=dict)
    shortened: Shortened = Shortened()
    ambiguous: tuple[Ambiguity, ...] = ()
    unknown: tuple[Import, ...] = ()
    unseen: tuple[Import, ...] = ()
