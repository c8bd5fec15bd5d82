"""Looking up what a text needs of its imports, so far as a style wants to know."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from stilo.order.catalogue import Catalogue
from stilo.order.expand import Expansion, expand
from stilo.order.groups import parts
from stilo.order.imports import ALL, Import
from stilo.order.needs import Needs
from stilo.order.project import Project
from stilo.order.shorten import Shortened, shorten
from stilo.order.surroundings import Surroundings, implicit_names, inner_names
from stilo.order.text import Text
from stilo.order.uses import Hiding, hides, of_home, unused
from stilo.sheet.properties import Value

#: The settings that turn these passes on, each by any value but `keep`.
NEEDS = ("import.unused", "import.wildcards", "import.qualified")


def needs_of(
    chosen: Sequence[Sequence[Import]],
    runs: Sequence[Sequence[Import]],
    text: Text,
    values: Mapping[str, Value],
    project: Project | None,
) -> Needs:
    """What the whole text says of the chosen ones of its runs of imports."""
    removes, expands, shortens = (values[name] != "keep" for name in NEEDS)
    language = text.language
    is_asked = removes or expands or shortens
    if not is_asked or not chosen:
        return Needs()
    if project is not None and language.facts.passes_imports_on(project.file.name):
        return Needs()
    tree = text.tree
    hiding = Hiding.of(language)
    marks = language.marks(tree, "names")
    is_bold = values["import.unused"] == "remove-boldly"
    if not is_bold and hides(tree, marks, hiding):
        return Needs()
    offsets = {entry.offset for run in chosen for item in run for entry in item.entries}
    expansion, shortened = Expansion({}), Shortened()
    if project is not None and (expands or shortens):
        catalogue = Catalogue(language, project, tuple(parts(str(values["import.libraries"]))))
        inner = inner_names(tree, language.marks(tree, "imports"), catalogue)
        implicit = implicit_names(language.facts.implicit, catalogue)
        around = Surroundings(tree, marks, hiding, catalogue, inner, implicit)
        if expands:
            expansion = expand(runs, around, parts(str(values["import.prefer"])))
        if shortens:
            shortened = shorten(runs, around, language.qualified_kinds)
    stars = {at: names for at, names in expansion.names.items() if at in offsets}
    gone = frozenset[int]()
    if removes and (is_bold or not _has_star(runs, stars, hiding)):
        found = {entry.offset for entry in unused(runs, tree, marks, hiding)}
        found |= {entry.offset for entry in of_home(runs, tree, language)}
        gone = frozenset((found | expansion.idle) & offsets)
    unseen = [
        item
        for run in (chosen if removes else ())
        for item in run
        if item.form.binds == "nothing"
            and item.moves == "yes"
            and item.entries[0].offset not in gone
    ]
    return Needs(gone, stars, shortened, expansion.ambiguous, expansion.unknown, tuple(unseen))


def _has_star(
    runs: Sequence[Sequence[Import]], stars: Mapping[int, tuple[str, ...]], hiding: Hiding
) -> bool:
    """Whether a star is left that may hide what is used, in a language where one can."""
    return (
        bool(hiding.words)
        and any(
            entry.name == ALL and entry.offset not in stars
            for run in runs
            for item in run
            for entry in item.entries
        )
    )
