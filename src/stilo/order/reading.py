"""A text as it is read before its imports are put in order: their runs, and what stays."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cached_property
from weakref import WeakKeyDictionary

from stilo.language import Language
from stilo.layout.plan import MARK
from stilo.order.imports import Import
from stilo.order.order import Order
from stilo.order.project import Project
from stilo.order.statements import Known, read_runs
from stilo.order.text import Text
from stilo.records import dataclass
from stilo.sheet.marks import Marks
from stilo.source import LineRange, Source
from stilo.style.directives import read_directives
from stilo.tree.flat import Tree

#: Imports as they were read in any file of a language, since the same few stand in most.
_KNOWN: WeakKeyDictionary[Language, Known] = WeakKeyDictionary()


@dataclass(frozen=True)
class Reading:
    """A text, the runs of its imports, and what is asked for.

    left: tokens of its top that stay as they are. lines: only runs that reach into these are chosen.
    """

    text: Text
    order: Order
    runs: Sequence[Sequence[Import]]
    left: Sequence[range] = ()
    lines: Sequence[LineRange] | None = None
    project: Project | None = None

    @property
    def is_of_top(self) -> bool:
        """Whether all its imports stand at the top of the text."""
        return not (self.text.parsed.others or any(run[0].is_within for run in self.runs))

    @cached_property
    def chosen(self) -> list[Sequence[Import]]:
        """The runs that reach into the lines, or all."""
        lines, source = self.lines, self.text.source
        return [
            run
            for run in self.runs
            if lines is None or any(_reaches(run, source, some) for some in lines)
        ]


def read(
    text: Text,
    order: Order,
    lines: Sequence[LineRange] | None = None,
    project: Project | None = None,
) -> Reading | None:
    """Read the top of a text; None if it says that it is to be left. Raises DirectiveError."""
    said = read_directives(text.top, text.source, text.language, order.values)
    if said.leaves_file:
        return None
    runs = runs_of(text.top, text.language, said.left, order.headers())
    for view in text.views[1:]:  # imports in branches that are in further views
        known = {item.start for run in runs for item in run}
        more = runs_of(view.top, text.language, (), order.headers())
        runs += [run for run in more if known.isdisjoint(item.start for item in run)]
    return Reading(
        text, order, sorted(runs, key=lambda run: run[0].start), said.left, lines, project
    )


def runs_of(
    tree: Tree,
    language: Language,
    left: Sequence[range] = (),
    headers: frozenset[bytes] = frozenset(),
) -> list[list[Import]]:
    """The runs of imports in a tree. headers: the comments that stand above groups."""
    comments, signs = language.remarks, language.kinds.signs
    marks = language.marks(tree, "imports")
    known = _KNOWN.setdefault(language, {})
    return [
        run
        for body in (_bodies(tree, marks) if language.has_inner_imports else (0,))
        for run in read_runs(tree, marks, comments, signs, left, MARK, headers, known, body)
        if run
    ]


def _bodies(tree: Tree, marks: Marks) -> list[int]:
    """The root, and the bodies within it that may have imports of their own, in order."""
    found = [0]
    for body in found:
        for item in marks.children(body) if tree.kind else ():
            if item in tree.last_token:
                found += [n for n in marks.children(item) if marks.word(n, "part") == "inside"]
    return sorted(found)


def _reaches(run: Sequence[Import], source: Source, lines: LineRange) -> bool:
    first = source.position(run[0].start).line
    last = source.position(run[-1].end).line
    return first <= lines[1] and lines[0] <= last
