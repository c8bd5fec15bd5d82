"""A reader that is not tree-sitter: lists in parentheses, read by hand, laid out by a sheet."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence, Set
from dataclasses import dataclass

import pytest

import stilo
from stilo.edits import Edit
from stilo.errors import Fault
from stilo.language import Language
from stilo.readers import Body, Parsed, Wanted
from stilo.registry import BASE, sheet_text
from stilo.source import Source
from stilo.support import Support
from stilo.tree.flat import Tree
from stilo.tree.kinds import Kinds

SOURCE, LIST, WORD, REMARK, OPEN, CLOSE = range(6)
KINDS = Kinds(
    ("source", "list", "word", "remark", "(", ")"),
    (True, True, True, True, False, False),
    (True,) * 6,
    {},
)
TOKEN = re.compile(rb";[^\n]*|[()]|[^\s();]+")
SHEET = """
@language tides { pairs: "(" ")"; files: "*.tide"; }
source { role: file; wrap: stack-always; between: line; indent: none }
list { role: arguments }
word { token: word }
remark { comment: line }
"(" { after: none; break: open }
")" { before: none; break: close }
list > word, list > list { break: before }
"""


@dataclass(frozen=True)
class ListsParsed:
    data: bytes
    tree: Tree
    error: int

    @property
    def top(self) -> Tree:
        return self.tree

    @property
    def others(self) -> Sequence[Parsed]:
        return ()

    @property
    def is_plain(self) -> bool:
        return True

    @property
    def unread(self) -> Sequence[tuple[int, int]]:
        return ()

    @property
    def has_error(self) -> bool:
        return self.error >= 0

    @property
    def size(self) -> int:
        return len(self.tree.kind)

    def fault(self, source: Source, pairs: Mapping[str, str]) -> Fault:
        return Fault(source.name, *source.position(self.error), "a parenthesis has no other")

    def leading_comments(self) -> list[str]:
        return []

    def bodies(self, start: int, end: int, kinds: Set[int]) -> Sequence[Body]:
        return []

    def edited(self, data: bytes, edits: Sequence[Edit]) -> Parsed:
        return ListsReader().read(data, Wanted())

    def shape(self, inner: Set[int]) -> list[int]:
        return self.tree.shape

    def same_as(self, tree: Tree) -> bool:
        return (self.tree.kind, self.tree.parent) == (tree.kind, tree.parent)


class ListsReader:
    name = "the reader of lists"
    kinds = KINDS

    def read(self, data: bytes, wanted: Wanted) -> ListsParsed:
        kind, parent, leaves, starts, ends = [SOURCE], [-1], [], [], []
        last: dict[int, int] = {}
        open_lists, error = [0], -1
        for found in TOKEN.finditer(data):
            text = found.group()
            if text == b"(":
                kind.append(LIST)
                parent.append(open_lists[-1])
                open_lists.append(len(kind) - 1)
            leaves.append(len(kind))
            starts.append(found.start())
            ends.append(found.end())
            sign = {b"(": OPEN, b")": CLOSE}.get(text)
            kind.append(sign if sign is not None else REMARK if text[:1] == b";" else WORD)
            parent.append(open_lists[-1])
            if text == b")" and len(open_lists) > 1:
                last[open_lists.pop()] = len(leaves) - 1
            elif text == b")":
                error = found.start()
        if len(open_lists) > 1:
            error = starts[-1]
        if leaves:
            last[0] = len(leaves) - 1
        tree = Tree(
            data=data,
            kind=kind if leaves else [],
            parent=parent if leaves else [],
            token_node=leaves,
            token_start=starts,
            token_end=ends,
            last_token=last,
            shape=kind,
            inner=frozenset((SOURCE, LIST)),
            size=len(kind),
            is_full=True,
        )
        return ListsParsed(data, tree, error)


@pytest.fixture(scope="module")
def tides() -> Language:
    sheets = [("base.stilo", sheet_text(BASE)), ("tides.stilo", SHEET)]
    return Language(sheets, Support(reader=ListsReader))


def test_a_language_with_a_reader_of_its_own_is_laid_out(tides: Language) -> None:
    text = "(berth   4( deck low ) ;tide\n)(lane)"
    result = stilo.reformat(text, tides)
    assert result.text == "(\n        berth\n        4\n        (deck low) ;tide\n)\n(lane)\n"
    assert not stilo.reformat(result.text, tides).changed
    assert stilo.reformat("(a  b)\n(c  d)\n", tides, lines=(2, 2)).text == "(a  b)\n(c d)\n"
    wide = f"(load {' '.join(f'lorry-{n}' for n in range(30))})\n"
    assert max(map(len, stilo.reformat(wide, tides, {"width": 40}).text.splitlines())) <= 40


def test_its_faults_are_told_where_they_are(tides: Language) -> None:
    with pytest.raises(stilo.SyntaxFault, match="^text:2:3: a parenthesis has no other"):
        stilo.reformat("(a)\nb )\n", tides)
    assert stilo.reformat("", tides).text == ""
