"""Stars in imports, replaced by the names that the file takes by them."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence

from stilo.order.imports import ALL, Import
from stilo.order.surroundings import Surroundings
from stilo.records import dataclass


@dataclass(frozen=True)
class Ambiguity:
    """A name in a file that several modules offer, and nothing says which is meant.

    candidates: the whole paths it may stand for. offsets: where it is used.
    """

    name: str
    candidates: tuple[str, ...]
    offsets: tuple[int, ...]


@dataclass(frozen=True)
class Expansion:
    """Offset of each star that can be replaced → the names in its place.

    idle: offsets of stars from which nothing is taken. unknown: the imports with a star of whose
    modules nothing is known.
    """

    names: Mapping[int, tuple[str, ...]]
    idle: frozenset[int] = frozenset()
    ambiguous: tuple[Ambiguity, ...] = ()
    unknown: tuple[Import, ...] = ()


def expand(
    runs: Iterable[Sequence[Import]], around: Surroundings, prefer: Sequence[str]
) -> Expansion:
    """Find out what the stars of a file stand for.

    prefer: whole paths that are meant wherever there is a choice.
    """
    items = [item for run in runs for item in run]
    stars = [item for item in items if any(entry.name == ALL for entry in item.entries)]
    answers = {item.start: around.catalogue.names(item.module, item.form.offers) for item in stars}
    unknown = tuple(item for item in stars if answers[item.start] is None)
    offered = {start: found for start, found in answers.items() if found is not None}
    if not any(offered.values()):
        return Expansion({}, unknown=unknown)
    sources = _sources(items, stars, offered, around)
    taken, ambiguous = _taken(sources, offered, prefer)
    offsets = {s.start: e.offset for s in stars for e in s.entries if e.name == ALL}
    idle = {s.start for s in stars if s.form.star == "weak" and not taken.get(s.start, True)}
    return Expansion(
        {offsets[start]: tuple(sorted(found)) for start, found in taken.items() if found},
        frozenset(offsets[start] for start in idle),
        ambiguous=ambiguous,
        unknown=unknown,
    )


def _sources(
    items: Sequence[Import],
    stars: Sequence[Import],
    offered: Mapping[int, frozenset[str]],
    around: Surroundings,
) -> dict[str, tuple[list[Import], Sequence[int]]]:
    """The names of which the file uses or mentions some that stars offer: the stars of each, and its places."""
    names = around.look_up(frozenset[str]().union(*offered.values()), items)
    hidden = (
        around.inner | around.implicit | {name for item in items for name, _ in item.bindings()}
    )
    hidden |= {name for name, found in names.items() if found.is_bound_at_top}
    sources: dict[str, tuple[list[Import], Sequence[int]]] = {}
    for item in stars:
        for name in offered.get(item.start, ()):
            known = names.get(name)
            if known is None or (item.form.star == "weak" and name in hidden):
                continue
            # What a comment calls so may be what a scope near it makes known.
            if known.is_used or (known.is_said and not known.binders):
                sources.setdefault(name, ([], known.places))[0].append(item)
    return sources


def _taken(
    sources: Mapping[str, tuple[Sequence[Import], Sequence[int]]],
    offered: Mapping[int, frozenset[str]],
    prefer: Sequence[str],
) -> tuple[dict[int, set[str]], tuple[Ambiguity, ...]]:
    """For each star whose names can be told, those that are taken from it; and the names that may be of several."""
    taken: dict[int, set[str]] = {start: set() for start in offered}
    ambiguous: list[Ambiguity] = []
    for name, (stars, places) in sorted(sources.items()):
        chosen = [s for s in stars if f"{s.module}.{name}" in prefer] or stars
        if len({s.module for s in chosen}) > 1 and chosen[0].form.star == "weak":
            candidates = tuple(sorted(f"{s.module}.{name}" for s in chosen))
            ambiguous.append(Ambiguity(name, candidates, tuple(places)))
            for source in chosen:
                taken.pop(source.start, None)
            continue
        for source in chosen:
            if source.start in taken:
                taken[source.start].add(name)
    return taken, tuple(ambiguous)
