"""What a text needs of its imports: asked of all that stands in it, where a style wants to know."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

from stilo.order.catalogue import Catalogue
from stilo.order.collapse import collapse
from stilo.order.expand import Expansion, expand
from stilo.order.groups import parts
from stilo.order.project import Project
from stilo.order.shorten import shorten
from stilo.order.statements import ALL, Import
from stilo.order.surroundings import Surroundings, implicit_names, inner_names
from stilo.order.text import Text
from stilo.order.uses import Hiding, hides, unused
from stilo.sheet.properties import Value

#: The settings that turn these passes on, each by any value but `keep` or 0.
NEEDS = ("import.unused", "import.wildcards", "import.star-from", "import.qualified")


def needs_of(
    chosen: Sequence[Sequence[Import]],
    all_runs: Sequence[Sequence[Import]],
    text: Text,
    values: Mapping[str, Value],
    project: Project | None,
) -> tuple[frozenset[int], Expansion]:
    """What the whole text says of the chosen runs: the offsets of entries that are to go, since
    nothing refers to them, and what stars stand for."""
    nothing = frozenset[int](), Expansion({})
    wanted = [values[name] not in ("keep", 0) for name in NEEDS]
    language = text.language
    if not any(wanted) or not chosen or language.passes_on(text.source.name):
        return nothing
    tree, hiding = text.tree, language.hiding
    marks = language.marks(tree, "names")
    is_bold = values["import.unused"] == "remove-boldly"
    if not is_bold and hides(tree, marks, hiding):
        return nothing
    offsets = {entry.offset for run in chosen for item in run for entry in item.entries}
    expansion = Expansion({})
    if any(wanted[1:]) and project is not None:
        catalogue = Catalogue(language, project, tuple(parts(str(values["import.libraries"]))))
        around = Surroundings(
            tree,
            marks,
            hiding,
            catalogue,
            inner_names(tree, language.marks(tree, "imports"), catalogue),
            implicit_names(language.implicit, catalogue),
        )
        least = int(values["import.star-from"])
        if wanted[1]:
            expansion = expand(all_runs, around, parts(str(values["import.prefer"])))
        if least:
            covered = collapse(all_runs, around, least)
            expansion = replace(expansion, covered=covered & offsets)
        if wanted[3]:
            paths = shorten(all_runs, around, language.qualified_kinds)
            expansion = replace(expansion, shortened=paths)
        names = {
            at: found
            for at, found in expansion.names.items()
            if at in offsets and not 0 < least <= len(found)
        }
        expansion = replace(expansion, names=names)
    if not wanted[0] or (not is_bold and _has_star(all_runs, expansion, hiding)):
        return frozenset(), expansion
    gone = {entry.offset for entry in unused(all_runs, tree, marks, hiding)} | expansion.idle
    return frozenset(gone & offsets), expansion


def _has_star(runs: Sequence[Sequence[Import]], expansion: Expansion, hiding: Hiding) -> bool:
    """Whether a star is left that may hide what is used, in a language where one can."""
    return (
        bool(hiding.words)
        and any(
            entry.name == ALL and entry.offset not in expansion.names
            for run in runs
            for item in run
            for entry in item.entries
        )
    )
