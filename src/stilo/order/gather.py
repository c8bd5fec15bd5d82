"""Imports that stand scattered among other code, and the block at the head of a file they belong in.

The head is what a sheet calls so (`crossed: header`), imports and comments. An import below it may
go up only over code that may be crossed, and in which none of the words stands that it makes known.
"""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Sequence, Set
from dataclasses import replace

from stilo.layout.plan import MARK
from stilo.order.changes import Change, shown
from stilo.order.imports import NOTHING, Import
from stilo.order.needs import Needs
from stilo.order.reading import Reading
from stilo.order.uses import Hiding, is_made_known
from stilo.records import dataclass
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
        """The imports as they join a run (or none), after all that is in it."""
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


def gather(reading: Reading, needs: Needs) -> Gathered:
    """Which of the imports that stand below the head of a file may go there.

    Nothing goes over what is to be left, or over a directive. What nothing refers to stays, but for what
    heads a paragraph, since its heading is handed on where the others are.
    """
    gone = needs.gone
    needed = [
        [
            replace(item, entries=tuple(e for e in item.entries if e.offset not in gone))
            for item in run
        ]
        for run in reading.runs
    ]
    found, home, at = _found(reading, needed)
    kept = _by_paragraphs(found, needed)
    whole = {item.start: item.entries for run in reading.runs for item in run}
    imports = [
        replace(item, entries=whole[item.start]) for item in kept if item.entries or item.heading
    ]
    if not imports or (_clashes(home[-1], needed) if home else at < 0):
        return Gathered()
    return Gathered(tuple(imports), home[0].start if home else -1, at)


def _found(
    reading: Reading, runs: Sequence[Sequence[Import]]
) -> tuple[list[Import], Sequence[Import], int]:
    """The imports that may go up, the run they go to, if any, and where one would begin otherwise."""
    tree, language = reading.text.tree, reading.text.language
    marks = language.marks(tree, "imports")
    fixed = _fixed(reading)
    is_bold = reading.order.values["import.scattered"] == "gather-boldly"
    owner = {item.start: (run, item) for run in runs for item in run}
    home: Sequence[Import] = ()
    is_head, at = True, 0
    remarks: list[int] = []  # the comments since the last statement
    words: set[str] = set()
    found: list[Import] = []
    for node in marks.children(0) if tree.kind else ():
        start, end = tree.extent(node)
        kind = tree.kind[node]
        if kind in language.kinds.signs:
            continue
        if kind in language.remarks:
            remarks.append(node)
            if MARK not in tree.data[start:end]:
                continue
            crossed = NOTHING
        elif start in owner:
            run, item = owner[start]
            crossed = NOTHING if item.moves == "no" else YES
            if crossed == YES:
                if is_head:
                    home = run
                elif _may_go(item, words, home, runs, reading):
                    found.append(item)
                else:
                    words |= {unicodedata.normalize("NFKC", name) for name, _ in item.bindings()}
        else:
            crossed = marks.word(node, "crossed")
            if start in fixed or marks.word(node, "import") != NOTHING:
                crossed = NOTHING
            if is_head and crossed not in (HEADER, NOTHING):
                is_head = False
                at = _begin(tree, remarks, start)
            if not is_head or crossed == NOTHING:  # what is crossed may call what stands above it
                words |= _words(tree, node)
        remarks = [node] if kind in language.remarks else []
        if crossed == NOTHING:
            if not is_head:
                break
            home = ()
        elif crossed == BOLDLY and not is_bold:
            break
    return found, home, at


def _fixed(reading: Reading) -> set[int]:
    """Where the tokens begin that stay as they are."""
    starts = reading.text.top.token_start
    return {starts[token] for tokens in reading.left for token in tokens if token < len(starts)}


def _may_go(
    item: Import,
    words: Set[str],
    home: Sequence[Import],
    runs: Sequence[Sequence[Import]],
    reading: Reading,
) -> bool:
    """Whether an import may leave where it stands, for what it says and what stands above it."""
    if item.moves != "yes" or _clashes(item, runs):
        return False
    known = {pair for other in home for pair in other.bindings()}
    for name, whole in item.bindings():
        if unicodedata.normalize("NFKC", name) in words:
            if (name, whole) not in known or _is_bound(name, reading):
                return False
    return True


def _is_bound(name: str, reading: Reading) -> bool:
    """Whether a name may be made known at the top of the file otherwise than by imports."""
    tree, language = reading.text.tree, reading.text.language
    hiding = Hiding.of(language)
    inside = sorted((item.start, item.end) for run in reading.runs for item in run)
    return is_made_known(name, inside, tree, language.marks(tree, "names"), hiding)


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


def _begin(tree: Tree, remarks: Sequence[int], start: int) -> int:
    """Where a block goes before what starts here and the comments right above; -1 for nowhere."""
    data = tree.data
    at = start
    for node in reversed(remarks):
        begin, end = tree.extent(node)
        is_alone = not data[data.rfind(b"\n", 0, begin) + 1 : begin].strip()
        if not is_alone or data.count(b"\n", end, at) != 1 or tree.first(node) == 0:
            break
        if MARK in data[begin:end]:
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
