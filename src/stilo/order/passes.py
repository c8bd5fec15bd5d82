"""The passes that put a file in order before it is laid out, and the way back to its source."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Iterable, Iterator, Mapping, Sequence, Set
from dataclasses import dataclass, replace
from functools import cache
from typing import TYPE_CHECKING

from stilo.edits import Edit, composed, moved
from stilo.errors import Fault, UnsafeResult
from stilo.language import Language
from stilo.order.arrange import Order, arrange
from stilo.order.changes import Arrangement
from stilo.order.gather import Gathered, gather
from stilo.order.groups import Known
from stilo.order.lookup import NEEDS, needs_of
from stilo.order.needs import Needs
from stilo.order.project import Project
from stilo.order.rewrite import is_model, possible
from stilo.order.shorten import Path, Shortened
from stilo.order.statements import ALL, Import, read_runs
from stilo.order.text import Text
from stilo.order.uses import Hiding, is_made_known
from stilo.sheet.properties import Value
from stilo.source import Position, Source
from stilo.style.directives import MARK, Directives, read_directives
from stilo.tree.flat import Tree

if TYPE_CHECKING:
    import tree_sitter

#: The settings that turn passes on, each by any value but `keep` or 0.
PASSES = ("import.order", "import.scattered", *NEEDS)
#: How many further rounds there may be until a text is settled.
ROUNDS = 3
#: What keeps all imports that there are as they are, but for their order.
KEPT: Mapping[str, Value] = {name: 0 if name == "import.star-from" else "keep" for name in NEEDS}
#: What holds where imports are to be put in order and the style asks for no pass.
ORDER_ALONE = {"import.order": "groups"}


def is_wanted(values: Mapping[str, Value]) -> bool:
    """Whether a style asks for any of these passes."""
    return any(values.get(name, "keep") not in ("keep", 0) for name in PASSES)


@dataclass(frozen=True)
class Ordered:
    """A text put in order, what was changed, the edits of the old one's bytes, and the new imports."""

    text: Text
    arrangement: Arrangement
    edits: tuple[Edit, ...]
    runs: Sequence[Sequence[Import]]

    def new_runs(self) -> Iterator[tuple[int, int]]:
        """First and last line, in the new source, of each run of imports that was changed."""
        shift = 0
        for edit in self.arrangement.edits:
            start = edit.start + shift
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


def put_in_order(
    text: Text,
    values: Mapping[str, Value],
    lines: tuple[int, int] | None,
    project: Project | None,
    more: int = ROUNDS,
) -> Ordered | None:
    """The text with its imports as a style asks for; None where nothing is to be told of them.

    lines: only runs of imports that reach into these. more: how many further rounds there may be.
    Raises DirectiveError, UnsafeResult.
    """
    source, language = text.source, text.language
    if values["import.packages"] == "keep" and language.passes_on(source.name):
        return None
    order = order_of(language, values, project)
    said = read_directives(text.top, source, language, values)
    if said.leaves_file:
        return None
    before = runs_of(text.top, language, said.left, order.headers())
    chosen = _chosen(before, source, lines)
    has_order = values["import.order"] != "keep" and lines is None
    if has_order and more == ROUNDS and any(values[name] != off for name, off in KEPT.items()):
        # In most files order is all there is to do, for which no more than the top is read.
        kept = {**values, **KEPT}
        alone = _ordered(text, before, chosen, Needs(), order, kept, said, lines, project, more)
        then = Ordered(text, Arrangement(), (), before) if alone is None else alone
        if needs_of(then.runs, then.runs, then.text, values, project) == Needs():
            return alone
    needs = needs_of(chosen, before, text, values, project)
    if lines is not None:
        needs = replace(needs, shortened=Shortened())
    needs = replace(needs, shortened=possible(needs.shortened, chosen))
    return _ordered(text, before, chosen, needs, order, values, said, lines, project, more)


def _ordered(
    text: Text,
    before: Sequence[Sequence[Import]],
    chosen: Sequence[Sequence[Import]],
    needs: Needs,
    order: Order,
    values: Mapping[str, Value],
    said: Directives,
    lines: tuple[int, int] | None,
    project: Project | None,
    more: int,
) -> Ordered | None:
    """The text with some of its runs of imports as they are to be, checked; see `put_in_order`."""
    source, language = text.source, text.language
    gathered = Gathered()
    if lines is None and values["import.scattered"] != "keep":
        gathered = _gathered(before, text, values, said.left, needs)
    arrangement = arrange(chosen, source.data, order, needs, gathered)
    if not arrangement.edits:
        is_silent = not (needs.ambiguous or needs.unknown)
        return None if is_silent else Ordered(text, arrangement, (), before)
    edits = text.raw_edits(arrangement.edits)
    new = text.edited(arrangement.edits, edits, not needs.shortened.paths)
    if new is None:
        raise _unsafe(arrangement, source)
    left = read_directives(new.top, new.source, language, values).left
    after = runs_of(new.top, language, left, order.headers())
    is_same = _said(after) == _wanted(before, arrangement)
    if needs.shortened.paths:
        is_same &= _code(text.tree, before, needs.shortened.paths) == _code(new.tree, after, ())
    comments = [_comments(top, language, order.headers()) for top in (text.top, new.top)]
    if not is_same or comments[0] != comments[1]:
        raise _unsafe(arrangement, source)
    done = Ordered(new, arrangement, edits, after)
    # A comment that has come to stand elsewhere may be read otherwise there.
    lines = lines and new_lines(done, source, lines)
    is_unsettled = values["import.scattered"] != "keep"
    if values["import.unused"] != "keep":
        spoken_of = _spoken_of(before)
        is_unsettled |= any(spoken_of.get(key) != ways for key, ways in _spoken_of(after).items())
    rest = arrange(_chosen(after, new.source, lines), new.source.data, order).edits
    if more and (is_unsettled or rest):
        further = put_in_order(new, values, lines, project, more - 1)
        return done if further is None else _both(done, further, source)
    return done


def _gathered(
    runs: Sequence[Sequence[Import]],
    text: Text,
    values: Mapping[str, Value],
    left: Sequence[range],
    needs: Needs,
) -> Gathered:
    """The imports of a text that go to its head, but for those that nothing refers to.

    left: tokens of its top that stay as they are.
    """
    tree, top, language = text.tree, text.top, text.language
    fixed = {
        top.token_start[token]
        for tokens in left
        for token in tokens
        if token < len(top.token_start)
    }

    @cache
    def is_bound(name: str) -> bool:
        hiding = Hiding(language.hides, language.said, language.grammar.comments)
        inside = sorted((item.start, item.end) for run in runs for item in run)
        return is_made_known(name, inside, tree, language.marks(tree, "names"), hiding)

    gone = needs.gone
    needed = [
        [
            replace(item, entries=tuple(e for e in item.entries if e.offset not in gone))
            for item in run
        ]
        for run in runs
    ]
    found = gather(
        needed,
        tree,
        language.marks(tree, "imports"),
        language.grammar.comments,
        language.grammar.plain,
        fixed,
        MARK,
        values["import.scattered"] == "gather-boldly",
        is_bound,
    )
    whole = {item.start: item for run in runs for item in run}
    imports = [
        replace(item, entries=whole[item.start].entries)
        for item in found.imports
        if item.entries or item.heading  # which is handed on where the others are
    ]
    return replace(found, imports=tuple(imports))


def _wanted(
    before: Iterable[Iterable[Import]], arrangement: Arrangement
) -> set[tuple[str, str, str, str]]:
    """What imports are to say."""
    needs = arrangement.needs
    gone = {change.offset for change in arrangement.changes if change.what == "removed"}
    items = [item for run in before for item in run]
    added = needs.shortened.added
    forms = {item.form.name for item in items if is_model(item)}
    wanted = _said(before, gone | needs.stars.keys() | needs.covered)
    wanted |= {(form, module, name, "") for form in forms for module, name in added}
    for item in items:
        for entry in item.entries:
            names = needs.stars.get(entry.offset, ())
            wanted |= {(item.form.name, item.module, name, "") for name in names}
            if entry.offset in needs.covered:
                wanted.add((item.form.name, item.module, ALL, ""))
    return wanted


def _code(tree: Tree, runs: Iterable[Iterable[Import]], paths: Sequence[Path]) -> list[bytes]:
    """The tokens that are in no import, without what is cut from paths."""
    spans = sorted(
        [(item.start, item.end) for run in runs for item in run]
        + [(path.start, path.end) for path in paths]
    )
    starts = [start for start, _ in spans]
    kept = []
    for text, at in zip(tree.texts, tree.token_start):
        number = bisect_right(starts, at) - 1
        if number < 0 or at >= spans[number][1]:
            kept.append(text)
    return kept


def _both(first: Ordered, second: Ordered, source: Source) -> Ordered:
    """What two rounds come to, the second on the result of the first."""
    one, two = first.arrangement, second.arrangement

    def behind(at: int) -> int:
        return next((new for start, _, new in two.places if start == at), moved(at, two.edits))

    changes = list(one.changes)
    for change in two.changes:
        offset = next((start for start, _, new in one.places if new == change.offset), None)
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


def _chosen(
    runs: Iterable[Sequence[Import]], source: Source, lines: tuple[int, int] | None
) -> list[Sequence[Import]]:
    """The runs that reach into some lines, or all."""
    return [run for run in runs if run and (lines is None or _reaches(run, source, lines))]


def order_of(language: Language, values: Mapping[str, Value], project: Project | None) -> Order:
    """What a style says of imports in a language."""

    def nowhere(path: str) -> bool:
        return False

    is_project: Known = nowhere
    if project is not None:
        is_project = project.finder(language.suffixes, language.finds_whole)
    return Order(values, language.import_forms, language.is_standard, is_project, language.remark)


def runs_of(
    tree: Tree,
    language: Language,
    left: Sequence[range] = (),
    headers: frozenset[bytes] = frozenset(),
) -> list[list[Import]]:
    """The runs of imports in a tree. headers: the comments that stand above groups."""
    comments, signs = language.grammar.comments, language.grammar.plain
    marks = language.marks(tree, "imports")
    found = read_runs(tree, marks, comments, signs, left, MARK, headers)
    return [run for run in found if run]


def placing(
    tree: Tree, language: Language, values: Mapping[str, Value], offset: int
) -> tuple[str, ...]:
    """The settings that decide on the place of the import at an offset; none where there is none."""
    settings: tuple[str, ...] = ()
    if values.get("import.order", "keep") != "keep":
        settings += ("import.groups", "import.sort")
    if values.get("import.scattered", "keep") != "keep":
        settings += ("import.scattered",)
    is_import = (
        settings
        and any(item.start <= offset < item.end for run in runs_of(tree, language) for item in run)
    )
    return settings if is_import else ()


def consulted_for_order(
    tree: Tree, language: Language, values: Mapping[str, Value], touched: Sequence[int] | None
) -> frozenset[str]:
    """The settings that decide on the imports in some tokens, or in all."""
    if "import.order" not in language.settings:
        return frozenset()
    is_touched = any(
        touched is None or tree.first(item.node) in touched
        for run in runs_of(tree, language)
        for item in run
    )
    if not is_touched:
        return frozenset()
    if not is_wanted(values):
        return frozenset(PASSES)
    return frozenset(n for n in language.settings if n.startswith("import."))


def _unsafe(arrangement: Arrangement, source: Source) -> UnsafeResult:
    """The error that not all imports, or not all comments, would still be there.

    The text outside the runs of imports is the same, since nothing else is edited.
    """
    edit = arrangement.edits[0]
    line, column = source.position(edit.start)
    message = (
        "the imports from here on would not say the same in order; the file is left as it was "
        "(a fault of the sheet or of Stilo: please report it)"
    )
    return UnsafeResult(Fault(source.name, line, column, message))


def _said(
    runs: Iterable[Iterable[Import]], gone: Set[int] = frozenset()
) -> set[tuple[str, str, str, str]]:
    """What imports say, but for the entries that begin at some offsets."""
    return {
        (item.form.name, item.module, entry.name, entry.alias)
        for run in runs
        for item in run
        for entry in item.entries
        if entry.offset not in gone
    }


def _spoken_of(
    runs: Iterable[Iterable[Import]]
) -> dict[tuple[str, str, str], set[tuple[bool, bool]]]:
    """What is imported, and whether comments may speak of it, alone or with others."""
    found: dict[tuple[str, str, str], set[tuple[bool, bool]]] = {}
    for run in runs:
        for item in run:
            way = (item.has_comments or item.is_headed, bool(item.heading))
            for entry in item.entries:
                found.setdefault((item.form.name, item.module, entry.name), set()).add(way)
    return found


def _comments(tree: Tree, language: Language, headers: frozenset[bytes]) -> list[bytes]:
    """All comments but those above groups, in no order."""
    kinds = language.grammar.comments
    return sorted(
        text.strip()
        for text, node in zip(tree.texts, tree.token_node)
        if tree.kind[node] in kinds and text not in headers
    )


def _reaches(run: Sequence[Import], source: Source, lines: tuple[int, int]) -> bool:
    first = source.position(run[0].start).line
    last = source.position(run[-1].end).line
    return first <= lines[1] and lines[0] <= last


def new_lines(ordered: Ordered, source: Source, lines: tuple[int, int]) -> tuple[int, int]:
    """Where lines of the source are once it is in order."""
    first, last = lines
    if not 1 <= first <= last <= source.line_count:
        return lines  # to be told of by whoever looks at them
    edits = ordered.arrangement.edits
    start = moved(source.line_start(first), edits)
    end = moved(source.line_start(last + 1) - 1, edits, True)
    new = ordered.text.source
    last_line = max(1, new.line_count)
    return min(new.position(start).line, last_line), min(new.position(end).line, last_line)
