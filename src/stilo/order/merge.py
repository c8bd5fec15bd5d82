"""Which imports there are to be: several of one module made one, or one made several."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import replace
from typing import NamedTuple

from stilo.order.imports import Entry, Import
from stilo.order.keys import KEYS
from stilo.order.writing import written
from stilo.sheet.properties import Value


class Merged(NamedTuple):
    """Imports as they are to be, and how they came to be so.

    twice: (import, entry) of the source that say what another says already.
    joined: the imports of the source that went into another; parted: those that were divided.
    unsorted: those whose names stand in another order.
    """

    imports: list[Import]
    twice: list[tuple[Import, Entry]]
    joined: list[Import]
    parted: list[Import]
    unsorted: list[Import]


def merge(run: Sequence[Import], values: Mapping[str, Value]) -> Merged:
    """Make of a run of imports those that the style asks for, in no order yet."""
    merged = Merged([], [], [], [], [])
    pieces = list(_pieces(_without_doubles(run, merged), values, merged))
    homes: dict[tuple[str, str, bool], int] = {}
    wants_one = values["import.names"] == "merge"
    for piece in pieces:
        key = (piece.form.name, piece.module, _stands_apart(piece, values))
        home = homes.get(key)
        if not (wants_one and _may_merge(piece)) or key[2]:
            merged.imports.append(piece)
        elif home is None or piece.heading or _has_whole(merged.imports[home], piece):
            homes[key] = len(merged.imports)
            merged.imports.append(piece)
        else:
            first = merged.imports[home]
            entries = (*first.entries, *piece.entries)
            merged.imports[home] = replace(first, entries=entries, head=first.head + piece.head)
            merged.joined.append(piece)
    originals = {item.source: item for item in run}
    for at, item in enumerate(merged.imports):
        merged.imports[at] = _written(item, originals[item.source], values, merged)
    return merged


def _may_merge(item: Import) -> bool:
    return item.is_plain and item.form.takes_many and not item.has_comments and bool(item.module)


def _has_whole(*items: Import) -> bool:
    """Whether each of the imports names what its module offers as a whole, which one import can do but once."""
    return all(any(not entry.name for entry in item.entries) for item in items)


def _stands_apart(item: Import, values: Mapping[str, Value]) -> bool:
    """Whether it is a name with another name for it, and such have imports of their own."""
    return values["import.aliased"] == "apart" and any(e.alias for e in item.entries)


def _without_doubles(run: Sequence[Import], merged: Merged) -> Iterator[Import]:
    """The imports without duplicates. Of two that say the same, the one with comments stays."""
    owner: dict[tuple[str, str, str, str], tuple[Import, Entry]] = {}

    def rank(item: Import, entry: Entry) -> bool:
        return not (item.has_comments or item.heading or entry.has_comments or not item.is_plain)

    for item in run:
        for entry in item.entries:
            key = (item.form.name, item.module, entry.name, entry.alias)
            known = owner.get(key)
            if known is None or (rank(*known) and not rank(item, entry)):
                owner[key] = (item, entry)
    for item in run:
        kept = []
        for entry in item.entries:
            _, holder = owner[item.form.name, item.module, entry.name, entry.alias]
            is_bare = rank(item, entry)
            may_lose = len(item.entries) == 1 or item.form.takes_many
            if holder is not entry and is_bare and may_lose:
                merged.twice.append((item, entry))
            else:
                kept.append(entry)
        if len(kept) == len(item.entries):
            yield item
        elif kept:
            yield replace(item, entries=tuple(kept))


def _pieces(run: Iterator[Import], values: Mapping[str, Value], merged: Merged) -> Iterator[Import]:
    """The imports, divided where each name, or each module, is to have its own."""
    for item in run:
        apart = values["import.names"] == "apart" or not item.module
        if len(item.entries) < 2 or not item.is_plain or item.has_comments or item.head:
            yield item
        elif apart:
            merged.parted.append(item)
            for number, entry in enumerate(item.entries):
                yield replace(item, entries=(entry,), heading=b"" if number else item.heading)
        elif values["import.aliased"] == "apart" and any(e.alias for e in item.entries):
            merged.parted.append(item)
            plain = tuple(e for e in item.entries if not e.alias)
            if plain:
                yield replace(item, entries=plain)
            for entry in item.entries:
                if entry.alias:
                    yield replace(item, entries=(entry,))
        else:
            yield item


def _written(item: Import, original: Import, values: Mapping[str, Value], merged: Merged) -> Import:
    """An import with its names in order and the text that says so."""
    if not item.is_plain:
        return item
    if item.entries and item.form.takes_many:
        key = KEYS[str(values["import.sort"])]
        entries = tuple(sorted(item.entries, key=lambda e: (key(e.name), key(e.alias))))
        if entries != item.entries:
            if set(item.entries) <= set(original.entries):
                merged.unsorted.append(original)
            item = replace(item, entries=entries)
    if item.entries == original.entries:
        return item
    return replace(item, text=written(item))
