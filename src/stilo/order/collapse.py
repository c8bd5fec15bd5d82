"""Many names of one module, for which one star may stand."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from stilo.order.statements import ALL, Entry, Import
from stilo.order.surroundings import Surroundings

Module = tuple[str, str]  # the form of the imports, and the module


def collapse(runs: Iterable[Sequence[Import]], around: Surroundings, least: int) -> frozenset[int]:
    """The offsets of the entries for which a star may stand, without any word changing its meaning.

    least: how many names of a module, that the file uses, a star stands for. Only imports whose stars
    are weak are looked at, and none where something else has a star of which nothing is known.
    """
    items = [item for run in runs for item in run]
    single: dict[Module, list[Entry]] = {}
    offered: dict[Module, frozenset[str]] = {}
    for item in items:
        module = (item.form.name, item.module)
        if item.form.star != "weak":
            continue
        if module not in offered:
            found = around.catalogue.names(item.module, item.form.offers)
            offered[module] = found or frozenset()
        if any(entry.name == ALL for entry in item.entries):
            if not offered[module]:
                return frozenset()
            single[module] = []  # it has its star
        elif module not in single or single[module]:
            is_free = (
                item.moves == "yes" and not (item.has_comments or item.heading or item.is_headed)
            )
            if is_free:
                single.setdefault(module, []).extend(e for e in item.entries if not e.alias)
    words = frozenset[str]().union(*offered.values())
    names = around.look_up(words, items)
    used = {name for name, known in names.items() if known.is_used or known.is_said}
    bound = {name for name, known in names.items() if known.is_bound_at_top}
    stars = [module for module, entries in single.items() if not entries]
    chosen: dict[Module, list[Entry]] = {}
    for module in sorted(single, key=lambda m: (-len(single[m]), m)):
        entries = single[module]
        taken = {entry.name for entry in entries}
        if not entries or len(taken & used) < least or not taken <= offered[module]:
            continue
        others = [*stars, *chosen]
        kept = {
            name
            for item in items
            if (item.form.name, item.module) not in (*chosen, module)
            for name, _ in item.bindings()
        }
        rivals = around.implicit.union(*(offered[other] for other in others))
        newly = (offered[module] & used) - kept - bound - around.inner
        if not taken & (around.inner | bound | rivals) and not newly & rivals:
            chosen[module] = entries
    return frozenset(entry.offset for entries in chosen.values() for entry in entries)
