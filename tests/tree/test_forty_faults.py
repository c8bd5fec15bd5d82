"""Forty broken files: the place that is told against the place of the fault.

Ten kinds of fault in four languages. Each text has its fault at the sign ⚑, which is taken out; told
may be that place or the end of what stands before it, since a missing sign is missing between the two.
Where it is told elsewhere, the place stands beside the text, as it is today.
"""

from __future__ import annotations

import pytest

import stilo

FAULTS = [
    # A closing bracket, or an opening one, is missing
    ("python", "x = [1, 2⚑\n"),
    ("json", '{"a": [1, 2⚑}\n'),
    ("toml", "a = [1, 2⚑\n"),
    ("java", "class A { int a = (1 + 2⚑; }\n"),
    ("python", "x = 1⚑)\n"),
    ("json", "[1]⚑]\n"),
    ("toml", "a = 1⚑]\n"),
    ("java", "class A { int a; } ⚑}\n"),
    # One closes another
    ("python", "x = (1⚑]\n"),
    ("json", "[1⚑}\n"),
    ("toml", "a = [1⚑}\n"),
    ("java", "class A { int[] a = f(1⚑]; }\n"),
    # A sign is missing
    ("python", "if x⚑\n    y()\n"),
    ("json", '{"a": 1⚑ "b": 2}\n'),
    ("toml", "a ⚑1\n"),
    ("java", "class A { void f() { int a = 1⚑ } }\n"),
    # One too many
    ("python", "x = 1 + ⚑* 2\n"),
    ("json", "[1,⚑, 2]\n"),
    ("toml", "a = ⚑= 1\n"),
    ("java", "class A { int a = ⚑= 1; }\n"),
    # A string has no end
    ("python", 's = ⚑"abc\nx = 1\n'),
    ("json", '{"a": ⚑"b}\n', (1, 10)),
    ("toml", 'a = ⚑"x\nb = 2\n', (1, 7)),
    ("java", 'class A { String s = ⚑"abc; }\n', (2, 1)),
    # A value is missing
    ("python", "x =⚑\ny = 2\n"),
    ("json", '{"a": ⚑}\n'),
    ("toml", "a = ⚑\n"),
    ("java", "class A { int a = ⚑; }\n", (1, 17)),
    # A name is missing
    ("python", "def ⚑(x):\n    pass\n"),
    ("json", '{⚑: 1}\n'),
    ("toml", "⚑= 1\n"),
    ("java", "class ⚑{ }\n", (1, 1)),
    # A word that is none here
    ("python", "return ⚑= 3\n"),
    ("json", '{"a": ⚑tru}\n'),
    ("toml", "a = ⚑tru\n"),
    ("java", "class A { int a = b ⚑of 1; }\n", (1, 19)),
    # Two where one may stand
    ("python", "x = 1 ⚑2\n"),
    ("json", "[1 ⚑2]\n"),
    ("toml", "a = 1 ⚑2\n"),
    ("java", "class A { int a = 1 ⚑2; }\n"),
]


@pytest.mark.parametrize("case", FAULTS, ids=[f"{c[0]}-{n // 4}" for n, c in enumerate(FAULTS)])
def test_a_fault_is_told_where_it_is(
    case: tuple[str, str] | tuple[str, str, tuple[int, int]],
) -> None:
    language, marked = case[:2]
    before, _, after = marked.partition("⚑")
    line, column = before.count("\n") + 1, len(before) - (before.rfind("\n") + 1) + 1
    ends = before.rstrip()
    spaces = len(after) - len(after.lstrip(" "))
    places = {
        (line, column),
        (line, column + spaces),
        (line, len(ends) - (ends.rfind("\n") + 1) + 1),
    }
    with pytest.raises(stilo.SyntaxFault) as caught:
        stilo.reformat(before + after, language)
    told = (caught.value.fault.line, caught.value.fault.column)
    assert told == case[2] if len(case) > 2 else told in places


def test_what_only_the_grammar_cannot_read_is_no_syntax_error() -> None:
    with pytest.raises(stilo.SyntaxFault) as caught:
        stilo.reformat("if():\n    \\\n\ta\n    ()\nelse:a", "python")
    said = "text:5:1: the grammar tree_sitter_python cannot read what stands here, though it is no syntax error"
    assert str(caught.value).startswith(said)
