"""Arranging the imports of a file: into groups, sorted, merged, without those it does not need.

Works on the source's text: what comes out are edits of it, each a whole run of imports, and what
was changed, import by import. The layout follows, on the new text.
"""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import replace

from stilo.edits import Edit
from stilo.order.changes import Arrangement, Change, shown
from stilo.order.gather import Gathered
from stilo.order.imports import Import
from stilo.order.merge import Merged, merge
from stilo.order.needs import Needs
from stilo.order.order import Order
from stilo.order.rewrite import added_to, without_stars, without_unused
from stilo.order.statements import stays_with


def arrange(
    runs: Sequence[Sequence[Import]],
    data: bytes,
    order: Order,
    needs: Needs = Needs(),
    gathered: Gathered = Gathered(),
) -> Arrangement:
    """Put each run of imports in order.

    needs: what else becomes of them. gathered: those that go from their run to the head of the file.
    """
    changes = gathered.changes()
    done: list[tuple[Edit, list[tuple[int, int, int]]]] = []
    for path in needs.shortened.paths:
        message = f"{path.module}.{path.name} may be written {path.name}"
        changes.append(Change(path.start, "shortened", message, "import.qualified"))
        done.append((Edit(path.start, path.end, b""), []))
    added = list(needs.shortened.added)
    if gathered.imports and gathered.home < 0:
        block = gathered.joining([])
        found = _arrange([], block, [], data, order, changes, needs, gathered.at)
        if found is not None:
            done.append(found)
    for run in runs:
        parts = [part for some in order.free(run) for part in _without_clashes(some)]
        for part in parts:
            new = added_to(part, added)
            members = [item for item in part if not gathered.leaves(item)]
            if run[0].start == gathered.home and part is parts[-1]:
                members += gathered.joining(part)
            found = _arrange(part, members, new, data, order, changes, needs)
            if found is not None:
                done.append(found)
    places: list[tuple[int, int, int]] = []
    shift = 0
    for edit, starts in sorted(done, key=lambda pair: pair[0].start):
        places += [(a, b, at + edit.start + shift) for a, b, at in starts]
        shift += len(edit.text) - (edit.end - edit.start)
    edits = sorted((edit for edit, _ in done), key=lambda edit: edit.start)
    return Arrangement(tuple(edits), tuple(sorted(changes)), order.headers(), tuple(places), needs)


def _without_clashes(run: Sequence[Import]) -> list[list[Import]]:
    """A run in parts, between the imports that make a name known which another makes known, too.

    Of two such imports the later one counts, so nothing changes places with them.
    """
    meant: dict[str, set[str]] = {}
    for item in run:
        for name, whole in item.bindings():
            meant.setdefault(name, set()).add(whole)
    found: list[list[Import]] = [[]]
    for item in run:
        if any(len(meant[name]) > 1 for name, _ in item.bindings()):
            found.append([])
        else:
            number = len(found[-1])
            found[-1].append(item if item.source == number else replace(item, source=number))
    return [part for part in found if part]


def _arrange(
    run: list[Import],
    members: list[Import],
    new: list[Import],
    data: bytes,
    order: Order,
    changes: list[Change],
    needs: Needs,
    at: int = 0,
) -> tuple[Edit, list[tuple[int, int, int]]] | None:
    """One run in order, and where its imports begin in it; nothing where it is so already.

    members: what it is to hold of the imports of the source. new: others. at: where it is to stand if
    there is none yet.
    """
    headers = order.headers()
    before = len(changes)
    named = without_stars(members, needs.stars, order.name_key, changes)
    kept = [*without_unused(named, needs.gone, changes), *new]
    is_same = not new and [item.start for item in members] == [item.start for item in run]
    if order.values["import.order"] == "keep" or members and members[0].moves == "no":
        if is_same and len(changes) == before:
            return None
        kept = [replace(item, is_crowded=False) for item in kept]
        return _edit(run, kept, _rows_of(kept, headers), data, at)
    stripped = [_without_headers(item, headers) for item in kept]
    merged = merge(stripped, order.values)
    group_of = {id(item): order.group(item) for item in merged.imports}
    wanted = sorted(merged.imports, key=lambda i: (group_of[id(i)], order.key(i)))
    first = [item for item in wanted if item.moves == "first"]
    wanted = first + [item for item in wanted if item.moves != "first"]
    rows = _rows(wanted, [group_of[id(item)] for item in wanted], order)
    if b"".join(rows) == b"".join(_rows_of(run, headers)):
        return None
    changes += _merged(merged, order)
    changes += _moved_blocks([item for item in wanted if item.source < len(run)], group_of)
    if is_same and len(changes) == before:
        changes += _gaps(wanted, run, [group_of[id(item)] for item in wanted], order)
    return _edit(run, wanted, rows, data, at)


def _merged(merged: Merged, order: Order) -> Iterator[Change]:
    """What was changed by merging imports, parting them and sorting their names."""
    for item, entry in merged.twice:
        message = f"{shown(item)} says twice what is imported: {entry.name}"
        yield Change(entry.offset, "merged", message, "import.order")
    for item in merged.joined:
        message = f"{shown(item)} belongs with the other import from {item.module}"
        yield Change(item.start, "merged", message, "import.names")
    for item in merged.parted:
        message = f"{shown(item)} belongs on several lines, name by name"
        setting = "import.order" if not item.module else "import.names"
        if item.module and order.values["import.names"] != "apart":
            setting = "import.aliased"
        yield Change(item.start, "divided", message, setting)
    for item in merged.unsorted:
        message = f"{shown(item)}: its names are not in order"
        yield Change(item.start, "sorted", message, "import.sort")


def _moved_blocks(wanted: Sequence[Import], group_of: Mapping[int, int]) -> Iterator[Change]:
    """Which imports were moved, those that moved together as one."""
    for items, word, other in _moved(wanted, group_of):
        item, more = items[0], len(items) - 1
        setting = "import.sort" if group_of[id(item)] == group_of[id(other)] else "import.groups"
        block = (
            f"{shown(item)} and the {f'{more} imports' if more > 1 else 'import'} after it belong"
        )
        message = f"{block if more else f'{shown(item)} belongs'} {word} {shown(other)}"
        yield Change(item.start, "moved", message, setting, len(items))


def _edit(
    run: Sequence[Import], wanted: Sequence[Import], rows: list[bytes], data: bytes, begin: int
) -> tuple[Edit, list[tuple[int, int, int]]]:
    """The edit that writes rows in place of a run, and where the imports begin in them.

    begin: where they are put if there is no run yet.
    """
    places, at = [], 0
    originals = {item.text: item for item in wanted}
    for row in rows:
        if (placed := originals.get(row)) is not None:
            places.append((placed.start, placed.end, at))
        at += len(row)
    if not run:
        line = data[data.rfind(b"\n", 0, begin) + 1 : begin]
        rows.insert(0, b"\n" if line else b"")
        return Edit(begin, begin, b"".join([*rows, b"\n\n"])), places
    start, end = _begin(run[0]), run[-1].rest or stays_with(run[-1], data)
    if run[-1].rest and rows:
        rows.append(b"\n")
    if not rows and data[end : end + 1] in (b"\n", b""):
        start, end = _with_blanks(data, start, min(end + 1, len(data)))
    return Edit(start, end, b"".join(rows)), places


def _with_blanks(data: bytes, start: int, end: int) -> tuple[int, int]:
    """The extent of lines that go, with the blank lines above or below them: the fewer of the two."""
    head = data[:start]
    if head[head.rfind(b"\n") + 1:].strip():
        return len(head.rstrip(b" \t")), end - data.endswith(b"\n", start, end)  # it shares a line
    first = len(head.rstrip())
    first = first and min(start, head.find(b"\n", first) + 1)
    below = len(data) - len(data[end:].lstrip())
    is_last = below == len(data)
    below = max(end, data.rfind(b"\n", end, below) + 1)
    if is_last or first and data.count(b"\n", end, below) > data.count(b"\n", first, start):
        return first, end
    return start, below


def _begin(item: Import) -> int:
    return item.start - len(item.heading) - len(item.lead)


def _without_headers(item: Import, headers: frozenset[bytes]) -> Import:
    """An import without the comments that stand above groups."""
    if not headers or not (item.lead or item.heading):
        return item

    def cleaned(text: bytes) -> bytes:
        lines = text.splitlines(keepends=True)
        return b"".join(line for line in lines if line.strip() not in headers)

    lead, heading = cleaned(item.lead), cleaned(item.heading)
    return replace(
        item, lead=lead if lead.strip() else b"", heading=heading if heading.strip() else b""
    )


def _rows(items: Sequence[Import], groups: Sequence[int], order: Order) -> list[bytes]:
    """The text of imports in order, piece by piece; all but the last end their line."""
    rows: list[bytes] = []
    headings = {item.paragraph: item.heading for item in items if item.heading}
    blank = b"\n" * int(order.values["import.group-blank"])
    before = -1
    for item, group in zip(items, groups):
        if rows:
            rows.append(b"\n")
            if group != before:
                rows.append(blank)
        if group != before and (header := order.header(group)):
            rows += [header, b"\n"]
        before = group
        if heading := headings.pop(item.paragraph, b""):
            rows.append(heading)
        rows += [item.lead, item.text]
        if item.trail:
            rows += [b"  ", item.trail]
    return [row for row in rows if row]


def _rows_of(run: Sequence[Import], headers: frozenset[bytes]) -> list[bytes]:
    """The same of imports as they stand; what shares a line with others is never in order."""
    rows: list[bytes] = []
    for item in run:
        if rows:
            rows.append(b"" if item.is_crowded else b"\n")
            if item.blank:
                rows.append(b"\n" * item.blank)
        text = item.heading + item.lead
        line = text.splitlines()[0].strip() if text else b""
        if line in headers:
            rows += [line, b"\n"]
            text = b"".join(text.splitlines(keepends=True)[1:])
        rows += [text] if text.strip() else []
        rows.append(item.text)
        if item.trail:
            rows += [b"  ", item.trail]
    return rows


def _moved(
    wanted: Sequence[Import], group_of: Mapping[int, int]
) -> list[tuple[list[Import], str, Import]]:
    """The fewest imports that have to change places, each with its neighbour there: it belongs before or after.

    Those of one group that stand one after the other, before and then, are together. group_of: by `id`.
    """
    tails: list[int] = []
    at_tail: list[int] = []
    link: list[int] = []
    for at, item in enumerate(wanted):
        length = bisect_left(tails, item.source)
        link.append(at_tail[length - 1] if length else -1)
        tails[length : length + 1] = [item.source]
        at_tail[length : length + 1] = [at]
    stays: set[int] = set()
    at = at_tail[-1] if at_tail else -1
    while at >= 0:
        stays.add(at)
        at = link[at]
    # Pieces of one import stand where the first of them does.
    sources = {wanted[at].source for at in stays}
    stays |= {at for at, item in enumerate(wanted) if item.source in sources}
    blocks: list[list[int]] = []
    for at, item in enumerate(wanted):
        if at in stays:
            continue
        follows = (
            bool(blocks) and blocks[-1][-1] == at - 1 and item.source == wanted[at - 1].source + 1
        )
        if follows and group_of[id(item)] == group_of[id(wanted[at - 1])]:
            blocks[-1].append(at)
        else:
            blocks.append([at])
    found: list[tuple[list[Import], str, Import]] = []
    for block in blocks:
        items = [wanted[at] for at in block]
        above, below = block[0] - 1, block[-1] + 1
        goes_down = above >= 0 and (below == len(wanted) or wanted[above].source > items[0].source)
        other = wanted[above if goes_down else below]
        found.append((items, "after" if goes_down else "before", other))
    return found


def _gaps(
    wanted: Sequence[Import], run: Sequence[Import], groups: Sequence[int], order: Order
) -> list[Change]:
    """What is to change between imports that stand in order."""
    blank = int(order.values["import.group-blank"])
    found = []
    for (before, above), (after, item) in zip(zip(groups, wanted), list(zip(groups, wanted))[1:]):
        want = blank if before != after else 0
        if item.blank != want or item.is_crowded:
            plural = "" if want == 1 else "s"
            message = f"{want} blank line{plural} wanted before {shown(item)}"
            if item.is_crowded:
                message = f"line break wanted before {shown(item)}"
            found.append(Change(item.start, "spaced", message, "import.group-blank"))
    if not found:
        message = f"the comment of its group wanted above {shown(run[0])}"
        found.append(Change(run[0].start, "spaced", message, "import.headers"))
    return found
