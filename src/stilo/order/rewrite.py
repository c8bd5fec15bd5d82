"""Which imports there are to be: without those not needed, and with names for stars, or stars for names."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import replace

from stilo.order.catalogue import FILES
from stilo.order.changes import Change, shown
from stilo.order.imports import Entry, Import
from stilo.order.keys import Key
from stilo.order.shorten import Shortened
from stilo.order.writing import written


def is_model(item: Import) -> bool:
    """Whether an import of a name of a module can be written by this one."""
    return item.form.offers == FILES and bool(item.form.writes) and not item.form.takes_many


def possible(shortened: Shortened, runs: Sequence[Sequence[Import]]) -> Shortened:
    """Of paths to shorten those for which nothing is to be imported, if no import could be a model."""
    if any(is_model(item) for run in runs for item in run):
        return shortened
    paths = tuple(p for p in shortened.paths if (p.module, p.name) not in shortened.added)
    return Shortened(paths)


def added_to(run: Sequence[Import], added: list[tuple[str, str]]) -> list[Import]:
    """Imports of what is to be added, if there is one of their form in a run to write them by."""
    model = next(filter(is_model, run), None)
    if model is None:
        return []
    new = [
        replace(
            model,
            module=module,
            entries=(Entry(name, offset=-1),),
            lead=b"",
            heading=b"",
            trail=b"",
            head=(),
            blank=0,
            start=run[-1].end,
            end=run[-1].end,
            paragraph=run[-1].paragraph,
            source=len(run) + number,
            rest=run[-1].rest,
        )
        for number, (module, name) in enumerate(added)
    ]
    added.clear()
    return [replace(item, text=written(item)) for item in new]


def without_stars(
    run: Sequence[Import], stars: Mapping[int, tuple[str, ...]], key: Key, changes: list[Change]
) -> list[Import]:
    """The imports with names in the place of stars, as many as there are."""
    found: list[Import] = []
    for item in run:
        star = next((e for e in item.entries if e.offset in stars), None)
        if star is None or not item.form.writes:
            found.append(item)
            continue
        names = sorted(stars[star.offset], key=key)
        listed = ", ".join(names[:5]) + (", …" if len(names) > 5 else "")
        message = f"{shown(item)} stands for {listed}"
        changes.append(Change(star.offset, "expanded", message, "import.wildcards"))
        entries = tuple(Entry(name, offset=-1) for name in names)
        parts = [entries] if item.form.takes_many else [(entry,) for entry in entries]
        for number, part in enumerate(parts):
            new = replace(item, entries=part)
            if number:
                new = replace(new, lead=b"", heading=b"", blank=0, is_crowded=False)
            if number < len(parts) - 1:
                new = replace(new, trail=b"")
            found.append(replace(new, text=written(new)))
    return found


def without_unused(
    run: Sequence[Import], gone: frozenset[int], changes: list[Change]
) -> Iterator[Import]:
    """The imports without what is not needed; what heads a paragraph stays with the rest of it."""
    if not gone:
        yield from run
        return
    heading, paragraph, blank = b"", -1, 0
    last = {  # per paragraph its last import of which something stays
        item.paragraph: at
        for at, item in enumerate(run)
        if any(entry.offset not in gone for entry in item.entries)
    }
    for at, item in enumerate(run):
        entries = tuple(entry for entry in item.entries if entry.offset not in gone)
        has_heir = last.get(item.paragraph, -1) > at
        is_written = item.is_plain and item.form.takes_many
        if (
            len(entries) < len(item.entries)
            and (is_written if entries else has_heir or not item.heading)
        ):
            for entry in item.entries:
                if entry not in entries:
                    message = f"{shown(item)}: nothing refers to {entry.alias or entry.name}"
                    changes.append(Change(entry.offset, "removed", message, "import.unused"))
            if not entries:
                blank = max(blank, item.blank)
                if item.heading:
                    heading, paragraph = item.heading, item.paragraph
                continue
            item = replace(item, entries=entries)
            item = replace(item, text=written(item))
        if heading and item.paragraph == paragraph:
            item = replace(item, heading=heading)
            heading = b""
        yield replace(item, blank=blank) if blank > item.blank else item
        blank = 0
