"""The passes that put a file in order before it is laid out, and the way back to its source."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import replace

from stilo.edits import Edit, composed, inverse, moved, moved_back
from stilo.errors import Fault, UnsafeResult
from stilo.order.arrange import arrange
from stilo.order.asked import KEPT
from stilo.order.changes import Arrangement, Change
from stilo.order.check import check, unsafe
from stilo.order.gather import Gathered, gather
from stilo.order.imports import Import
from stilo.order.lookup import needs_of
from stilo.order.needs import Needs
from stilo.order.order import order_of
from stilo.order.project import Project
from stilo.order.reading import Reading, read
from stilo.order.rewrite import possible
from stilo.order.shorten import Shortened
from stilo.order.text import Text
from stilo.records import dataclass
from stilo.sheet.properties import Value
from stilo.source import LineRange, Position, Source
from stilo.support import Form

#: How many further rounds there may be until a text is settled.
ROUNDS = 3


@dataclass(frozen=True)
class Ordered:
    """A text put in order, what was changed, the edits of the old one's bytes, and the new imports."""

    text: Text
    arrangement: Arrangement
    edits: tuple[Edit, ...]
    runs: Sequence[Sequence[Import]]

    def new_runs(self, old: Source) -> Iterator[tuple[int, int]]:
        """First and last line, in the new source, of each run of imports that was changed, if it left anything."""
        shift = 0
        for edit in self.arrangement.edits:
            start = edit.start + shift
            if not edit.text and old.takes_lines(edit.start, edit.end):
                shift -= edit.end - edit.start
                continue
            end = start + max(0, len(edit.text) - 1)
            start, end = (min(at, max(0, len(self.text.source.data) - 1)) for at in (start, end))
            yield self.text.source.position(start).line, self.text.source.position(end).line
            shift += len(edit.text) - (edit.end - edit.start)

    def place(self, old: Source, line: int, column: int | None) -> tuple[int, int | None]:
        """Where a line and column of the old source are in the new one; an import, where it went."""
        offset = old.offset(Position(line, column or 1))
        for start, end, at in self.arrangement.places:
            if start <= offset < end:
                offset = at + min(offset - start, end - start - 1)
                break
        else:
            offset = moved(offset, self.arrangement.edits)
        new = self.text.source
        at_line, at_column = new.position(min(offset, max(0, len(new.data) - 1)))
        return at_line, at_column if column is not None else None


def rewritten(
    text: Text, forms: Iterable[Form], code: str, what: str, says_same: Callable[[Text], bool]
) -> Ordered | None:
    """The text with some of it written otherwise; None if there is nothing of the kind.

    code: of the findings. what: the new text has, for messages. says_same: whether it says what the old one does.
    Raises UnsafeResult.
    """
    found = list(forms)
    edits = sorted((edit for form in found for edit in form.edits), key=lambda e: (e.start, e.end))
    if not edits:
        return None
    raw = text.raw_edits(edits)
    new = text.edited(edits, raw, False)
    if new is None or not says_same(new):
        place = text.source.position(edits[0].start)
        message = f"with {what} the text would read differently; the file is left as it was"
        raise UnsafeResult(Fault(text.source.name, *place, message))
    changes = sorted(Change(form.at, code, form.message, form.setting, 0) for form in found)
    return Ordered(new, Arrangement(tuple(edits), tuple(changes)), raw, [])


def put_in_order(
    text: Text,
    values: Mapping[str, Value],
    lines: Sequence[LineRange] | None,
    project: Project | None,
    more: int = ROUNDS,
) -> Ordered | None:
    """The text with its imports as a style asks for; None where nothing is to be told of them.

    lines: only runs of imports that reach into these. more: how many further rounds there may be.
    Raises DirectiveError, UnsafeResult.
    """
    passes_on = project is not None and text.language.facts.passes_imports_on(project.file.name)
    if passes_on and values["import.packages"] == "keep":
        return None
    before = read(text, order_of(text.language, values, project), lines, project)
    if before is None:
        return None
    has_order = values["import.order"] != "keep" and lines is None
    if has_order and more == ROUNDS and any(values[name] != off for name, off in KEPT.items()):
        # In most files order is all there is to do, for which no more than the top is read.
        order_alone = replace(before.order, values={**values, **KEPT})
        alone = _ordered(replace(before, order=order_alone), Needs(), more)
        text, runs = (text, before.runs) if alone is None else (alone.text, alone.runs)
        if needs_of(runs, runs, text, values, project) == Needs():
            return alone
        if alone is not None:
            back = inverse(before.text.source.data, alone.arrangement.edits)
            if before.is_of_top:
                before = replace(before, text=before.text.with_tree_of(text, back))
    needs = needs_of(before.chosen, before.runs, before.text, values, project)
    if lines is not None:
        needs = replace(needs, shortened=Shortened())
    needs = replace(needs, shortened=possible(needs.shortened, before.chosen))
    return _ordered(before, needs, more)


def _ordered(before: Reading, needs: Needs, more: int) -> Ordered | None:
    """The text with the chosen runs of its imports as they are to be, checked; see `put_in_order`."""
    text, values, source = before.text, before.order.values, before.text.source
    gathered = Gathered()
    if before.lines is None and values["import.scattered"] != "keep":
        gathered = gather(before, needs)
    arrangement = arrange(before.chosen, source.data, before.order, needs, gathered)
    if not arrangement.edits:
        is_silent = not (needs.ambiguous or needs.unknown or needs.unseen)
        return None if is_silent else Ordered(text, arrangement, (), before.runs)
    edits = text.raw_edits(arrangement.edits)
    is_of_top = before.is_of_top and not needs.shortened.paths
    new = text.edited(arrangement.edits, edits, is_of_top)
    after = None if new is None else read(new, before.order, project=before.project)
    if new is None or after is None:
        raise unsafe(arrangement, source)
    check(before, after, arrangement)
    charset_of = text.language.support.charset
    if charset_of is not None and charset_of(source.raw) != charset_of(new.source.raw):
        return None  # a comment would come to say, or no longer say, how the file is encoded
    done = Ordered(new, arrangement, edits, after.runs)
    lines = new_lines(done, source, before.lines)
    # A comment that has come to stand elsewhere may be read otherwise there.
    is_unsettled = values["import.scattered"] != "keep"
    if values["import.unused"] != "keep":
        spoken_of = _spoken_of(before.runs)
        ways = _spoken_of(after.runs)
        is_unsettled |= any(spoken_of.get(key) != found for key, found in ways.items())
    if not more:
        return done
    chosen = replace(after, lines=lines).chosen
    if is_unsettled or arrange(chosen, new.source.data, before.order).edits:
        further = put_in_order(new, values, lines, before.project, more - 1)
        return done if further is None else both(done, further, source)
    return done


def both(first: Ordered, second: Ordered, source: Source) -> Ordered:
    """What two rounds come to, the second on the result of the first."""
    one, two = first.arrangement, second.arrangement

    def behind(at: int) -> int:
        return next((new for start, _, new in two.places if start == at), moved(at, two.edits))

    changes = list(one.changes)
    for change in two.changes:
        offset = next((start for start, _, new in one.places if new == change.offset), None)
        if offset is None:
            offset = moved_back(change.offset, one.edits)
        if offset is not None:
            changes.append(change._replace(offset=offset))
    both = Arrangement(
        tuple(composed(source.data, one.edits, two.edits)),
        tuple(sorted(changes)),
        one.headers,
        tuple((start, end, behind(at)) for start, end, at in one.places),
        one.needs,
    )
    edits = composed(source.raw, first.edits, second.edits)
    return Ordered(second.text, both, tuple(edits), second.runs)


def _spoken_of(
    runs: Iterable[Iterable[Import]],
) -> dict[tuple[str, str, str], set[tuple[bool, bool]]]:
    """What is imported, and whether comments may speak of it, alone or with others."""
    found: dict[tuple[str, str, str], set[tuple[bool, bool]]] = {}
    for run in runs:
        for item in run:
            way = (item.has_comments or item.is_headed, bool(item.heading))
            for entry in item.entries:
                found.setdefault((item.form.name, item.module, entry.name), set()).add(way)
    return found


def new_lines(
    ordered: Ordered, source: Source, lines: Sequence[LineRange] | None
) -> list[LineRange] | None:
    """Where lines of the source are once it is in order."""
    return None if lines is None else [_new_range(ordered, source, some) for some in lines]


def _new_range(ordered: Ordered, source: Source, lines: LineRange) -> LineRange:
    edits = ordered.arrangement.edits
    begin, behind = source.stretch(lines)
    start, end = moved(begin, edits), moved(behind - 1, edits, True)
    new = ordered.text.source
    last_line = max(1, new.line_count)
    return min(new.position(start).line, last_line), min(new.position(end).line, last_line)
