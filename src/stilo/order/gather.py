"""Imports that stand scattered among other code, and the block at the head of a file they belong in.

The head is what a sheet calls so (`crossed: header`), imports and comments. An import below it may
go up only over code that may be crossed, and in which none of the words stands that it makes known.
"""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Callable, Sequence, Set
from dataclasses import dataclass, replace

from stilo.order.changes import Change, shown
from stilo.order.statements import NOTHING, Import
from stilo.sheet.marks import Marks
from stilo.tree.flat import Tree

#: Values of the property `crossed`.
YES, BOLDLY, HEADER = "yes", "boldly", "header"
_WORD = re.compile(r"[\w$]+")


@dataclass(frozen=True)
class Gathered:
    """The imports that go to the head of a file.

    imports: as they stand. home: where the run begins that takes them in, or -1 for one of their own,
    which begins at the offset `at`.
    """

    imports: tuple[Import, ...] = ()
    home: int = -1
    at: int = 0

    def leaves(self, item: Import) -> bool:
        """Whether an import goes from where it stands."""
        return any(other.start == item.start for other in self.imports)

    def joining(self, run: Sequence[Import]) -> list[Import]:
        """The imports as they join a run (or none), behind all that is in it."""
        paragraph = run[-1].paragraph + 1 if run else 0
        return [
            replace(
                item,
                source=len(run) + number,
                paragraph=paragraph + item.paragraph,
                blank=0,
                is_crowded=False,
                rest=0,
            )
            for number, item in enumerate(self.imports)
        ]

    def changes(self) -> list[Change]:
        """What is to be told of them."""
        return [
            Change(
                item.start,
                "gathered",
                f"{shown(item)} belongs with the imports at the head of the file",
                "import.scattered",
            )
            for item in self.imports
        ]


def gather(
    runs: Sequence[Sequence[Import]],
    tree: Tree,
    marks: Marks,
    comments: Set[int],
    signs: Set[int],
    fixed: Set[int],
    stop: bytes,
    is_bold: bool,
    is_bound: Callable[[str], bool],
) -> Gathered:
    """Which of the imports that stand below the head of a file may go there.

    comments, signs: kinds of these. fixed: where statements begin that stay as they are. Nothing goes
    over these, nor over a comment that holds `stop`. is_bold: but over all else, and not just over what
    the sheet says may be crossed. is_bound: whether a name is made known at the top of the file
    otherwise than by imports.
    """
    owner = {item.start: (run, item) for run in runs for item in run}
    home: Sequence[Import] = ()
    is_head, at = True, 0
    remarks: list[int] = []  # the comments since the last statement
    words: set[str] = set()
    found: list[Import] = []
    for node in marks.children(0) if tree.kind else ():
        start, end = tree.extent(node)
        if tree.kind[node] in signs:
            continue
        if tree.kind[node] in comments:
            remarks.append(node)
            if stop not in tree.data[start:end]:
                continue
            crossed = NOTHING
        elif start in owner:
            run, item = owner[start]
            crossed = NOTHING if item.moves == "no" else YES
            if crossed == YES:
                if is_head:
                    home = run
                elif _may_go(item, words, home, runs, is_bound):
                    found.append(item)
                else:
                    words |= {unicodedata.normalize("NFKC", name) for name, _ in item.bindings()}
        else:
            crossed = marks.word(node, "crossed")
            if start in fixed or marks.word(node, "import") != NOTHING:
                crossed = NOTHING
            if is_head and crossed not in (HEADER, NOTHING):
                is_head = False
                at = _begin(tree, remarks, start, stop)
            if not is_head:
                words |= _words(tree, node)
        remarks = [node] if tree.kind[node] in comments else []
        if crossed == NOTHING:
            if not is_head:
                break
            home = ()
        elif crossed == BOLDLY and not is_bold:
            break
    kept = _by_paragraphs(found, runs)
    if not kept or (_clashes(home[-1], runs) if home else at < 0):
        return Gathered()
    return Gathered(tuple(kept), home[0].start if home else -1, at)


def _may_go(
    item: Import,
    words: Set[str],
    home: Sequence[Import],
    runs: Sequence[Sequence[Import]],
    is_bound: Callable[[str], bool],
) -> bool:
    """Whether an import may leave where it stands, for what it says and what stands above it."""
    if item.moves != "yes" or _clashes(item, runs):
        return False
    known = {pair for other in home for pair in other.bindings()}
    for name, whole in item.bindings():
        if unicodedata.normalize("NFKC", name) in words:
            if (name, whole) not in known or is_bound(name):
                return False
    return True


def _clashes(item: Import, runs: Sequence[Sequence[Import]]) -> bool:
    """Whether another import makes the same name known as something else."""
    meant = dict(item.bindings())
    return any(
        meant.get(name, whole) != whole
        for run in runs
        for other in run
        for name, whole in other.bindings()
    )


def _words(tree: Tree, node: int) -> set[str]:
    return {unicodedata.normalize("NFKC", word) for word in _WORD.findall(tree.text(node))}


def _begin(tree: Tree, remarks: Sequence[int], start: int, stop: bytes) -> int:
    """Where a block goes before what starts here and the comments right above; -1 for nowhere."""
    data = tree.data
    at = start
    for node in reversed(remarks):
        begin, end = tree.extent(node)
        is_alone = not data[data.rfind(b"\n", 0, begin) + 1 : begin].strip()
        if not is_alone or data.count(b"\n", end, at) != 1 or tree.first(node) == 0:
            break
        if stop in data[begin:end]:
            return -1
        at = begin
    return at


def _by_paragraphs(found: list[Import], runs: Sequence[Sequence[Import]]) -> list[Import]:
    """The imports by the numbers of their paragraphs, but for those that head one of which some stay."""
    paragraph = {item.start: (run[0].start, item.paragraph) for run in runs for item in run}
    goes = {item.start for item in found}
    staying = {place for start, place in paragraph.items() if start not in goes}
    kept = [item for item in found if not (item.heading and paragraph[item.start] in staying)]
    numbers = {place: number for number, place in enumerate(sorted(set(paragraph.values())))}
    return [replace(item, paragraph=numbers[paragraph[item.start]]) for item in kept]
