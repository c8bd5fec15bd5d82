"""The passes that put a file in order before it is laid out, and the way back to its source."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING

from stilo.edits import Edit, apply_edits, moved
from stilo.errors import Fault, UnsafeResult
from stilo.language import Language
from stilo.order.arrange import Arrangement, Order, arrange
from stilo.order.groups import Known
from stilo.order.project import Project
from stilo.order.statements import Import, read_runs
from stilo.sheet.properties import Value
from stilo.source import Position, Source
from stilo.style.directives import MARK, read_directives
from stilo.tree.flat import Tree

if TYPE_CHECKING:
    import tree_sitter

#: What turns a pass on, by setting.
PASSES = {"import.order": "groups"}


def is_wanted(values: Mapping[str, Value]) -> bool:
    """Whether a style asks for any of these passes."""
    return any(values.get(name) == value for name, value in PASSES.items())


@dataclass(frozen=True)
class Ordered:
    """A source put in order: the new source, the grammar's tree of it, what was changed, and the
    edits of the old one's bytes."""

    source: Source
    parsed: tree_sitter.Tree
    arrangement: Arrangement
    edits: tuple[Edit, ...]

    def new_runs(self) -> Iterator[tuple[int, int]]:
        """First and last line, in the new source, of each run of imports that was changed."""
        shift = 0
        for edit in self.arrangement.edits:
            start = edit.start + shift
            end = start + max(0, len(edit.text) - 1)
            yield self.source.position(start).line, self.source.position(end).line
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
        at_line, at_column = self.source.position(offset)
        return at_line, at_column if column is not None else None

    def asked_at(self, offset: int) -> tuple[str, ...]:
        """The settings that decide on the place of the import at an offset of the old source."""
        if any(start <= offset < end for start, end, _ in self.arrangement.places):
            return ("import.groups", "import.sort")
        return ()


def put_in_order(
    parsed: tree_sitter.Tree,
    source: Source,
    language: Language,
    values: Mapping[str, Value],
    lines: tuple[int, int] | None,
    project: Project | None,
) -> Ordered | None:
    """The source with its imports as a style asks for; None where they are so already.

    parsed: the grammar's tree of the source; of no use afterwards. lines: only runs of imports that
    reach into these. Raises DirectiveError, UnsafeResult.
    """
    order = order_of(language, values, project)
    tree = _top(parsed, source, language)
    said = read_directives(tree, source, language, values)
    if said.leaves_file:
        return None
    before = runs_of(tree, language, said.left, order.headers())
    chosen: Iterable[Sequence[Import]] = before
    if lines is not None:
        chosen = [run for run in before if _reaches(run, source, lines)]
    arrangement = arrange([run for run in chosen if run], source.data, order)
    if not arrangement.edits:
        return None
    end = b"\r\n" if source.has_crlf else b"\n"
    edits = [
        Edit(
            source.original(edit.start),
            source.original(edit.end),
            source.encode(edit.text.replace(b"\n", end)),
        )
        for edit in arrangement.edits
    ]
    raw = apply_edits(source.raw, edits)
    new = Source.from_bytes(raw, source.name, source.charset)
    again = language.grammar.parse_again(parsed, source.data, new.data, arrangement.edits)
    if again is None:
        raise _unsafe(arrangement, source)
    after = _top(again, new, language)
    left = read_directives(after, new, language, values).left
    runs = runs_of(after, language, left, order.headers())
    is_same = _said(before) == _said(runs) and (
        _comments(tree, language, order.headers()) == _comments(after, language, order.headers())
    )
    if not is_same:
        raise _unsafe(arrangement, source)
    return Ordered(new, again, arrangement, tuple(edits))


def _top(parsed: tree_sitter.Tree, source: Source, language: Language) -> Tree:
    """The flat tree of a text at its top, where imports are looked into and nothing else."""
    return language.grammar.read_top(
        parsed, source.data, language.whole, language.import_kinds
    )


def order_of(
    language: Language, values: Mapping[str, Value], project: Project | None
) -> Order:
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
    found = read_runs(tree, language.marks(tree), comments, signs, left, MARK, headers)
    return [run for run in found if run]


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


def _said(runs: Iterable[Iterable[Import]]) -> set[tuple[str, str, str, str]]:
    return {
        (item.form.name, item.module, entry.name, entry.alias)
        for run in runs
        for item in run
        for entry in item.entries
    }


def _comments(tree: Tree, language: Language, headers: frozenset[bytes]) -> list[bytes]:
    """All comments but those above groups, in no order."""
    kinds = language.grammar.comments
    return sorted(
        text.strip()
        for text, node in zip(tree.texts, tree.token_node)
        if tree.kind[node] in kinds and text not in headers
    )


def _reaches(run: Sequence[Import], source: Source, lines: tuple[int, int]) -> bool:
    if not run:
        return False
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
    return ordered.source.position(start).line, ordered.source.position(end).line
