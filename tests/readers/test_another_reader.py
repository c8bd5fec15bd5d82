"""A reader that is not tree-sitter: lists in parentheses, read by hand, laid out by a sheet."""

from __future__ import annotations

import re

import pytest

import stilo
from stilo.language import Language
from stilo.readers.built import BuiltParsed
from stilo.readers.reader import Wanted
from stilo.registry import BASE, sheet_text
from stilo.support import Support
from stilo.tree.build import TreeBuilder
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


class ListsReader:
    name = "the reader of lists"
    kinds = KINDS

    def read(self, data: bytes, wanted: Wanted) -> BuiltParsed:
        tree, depth, error = TreeBuilder(data), 0, None
        tree.open(SOURCE)
        for found in TOKEN.finditer(data):
            text = found.group()
            if text == b"(":
                tree.open(LIST)
                depth += 1
            sign = {b"(": OPEN, b")": CLOSE}.get(text)
            kind = sign if sign is not None else REMARK if text[:1] == b";" else WORD
            tree.leaf(kind, *found.span())
            if text == b")":
                depth -= 1
                if depth >= 0:
                    tree.close()
                else:
                    error = error or (found.start(), "the parenthesis has no other")
        for _ in range(max(0, depth) + 1):
            tree.close()
        if depth > 0:
            error = len(data), "a parenthesis has no other"
        return BuiltParsed(
            data, tree.tree(), lambda other: self.read(other, wanted), wanted.comments, error
        )


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
    with pytest.raises(
        stilo.SyntaxFault, match="^text:2:3: syntax error: the parenthesis has no other"
    ):
        stilo.reformat("(a)\nb )\n", tides)
    assert stilo.reformat("", tides).text == ""
