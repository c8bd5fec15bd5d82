"""Parts laid out alone: they go by the lines around them, and nothing else changes."""

from __future__ import annotations

import ast

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

import stilo
from stilo.layout.comments import before_on_line
from stilo.layout.kept import find_kept, find_margins

PARTS = [
    (
        "a line beside others at two columns",
        "python",
        "def f(x):\n  if x:\n    a()\n  b( )\n",
        [(4, 4)],
        "def f(x):\n  if x:\n    a()\n  b()\n",
    ),
    (
        "a whole block goes on in the style from its header",
        "python",
        "def f(x):\n  if x:\n    a( )\n  b()\n",
        [(3, 3)],
        "def f(x):\n  if x:\n      a()\n  b()\n",
    ),
    (
        "a header leaves its block as it is",
        "python",
        "if  x:\n   a( )\nb()\n",
        [(1, 1)],
        "if x:\n   a( )\nb()\n",
    ),
    (
        "tabs around it are taken over",
        "python",
        "if x:\n\tif y:\n\t\ta()\n\t\tb( )\n",
        [(4, 4)],
        "if x:\n\tif y:\n\t\ta()\n\t\tb()\n",
    ),
    (
        "several ranges",
        "python",
        "if x:\n  a( )\n  b( )\n  c( )\n",
        [(2, 2), (4, 4)],
        "if x:\n  a()\n  b( )\n  c()\n",
    ),
    (
        "statements that share a line are taken together",
        "python",
        "x = f(\n    1,\n); y = 2\nz  = 3\n",
        [(1, 1)],
        "x = f(1)\ny = 2\nz  = 3\n",
    ),
    (
        "brackets that a value gets are both in its statement",
        "python",
        "graph = x.Graph(  # c\n)  # d\nz  = 3\n",
        [(1, 1)],
        "graph = (\n    x.Graph(  # c\n    )\n)  # d\nz  = 3\n",
    ),
    (
        "a line that a backslash begins",
        "python",
        "class A:\n    \\\ndef f( ):\n        a\n",
        [(4, 4)],
        "class A:\n    \\\ndef f( ):\n        a\n",
    ),
    (
        "a line that a backslash begins, and a comment below its block",
        "python",
        "def f():\n    \\\nif x:\n          a( )\n    # c\n",
        [(3, 4)],
        "def f():\n    if x:\n        a()\n    # c\n",
    ),
    (
        "members of a class at one column",
        "java",
        "class A {\n  int  a;\n  void f ( ) { g(); }\n  int  b;\n}\n",
        [(3, 3)],
        "class A {\n  int  a;\n\n  void f() {\n      g();\n  }\n  int  b;\n}\n",
    ),
    (
        "the closing brace of a block that stays",
        "java",
        "class A {\n  void f() {\n    g( );\n      }\n}\n",
        [(4, 4)],
        "class A {\n  void f() {\n    g( );\n  }\n}\n",
    ),
    (
        "a comment below at the column of a header of several lines",
        "python",
        "class a():\n    def a(\n):\n        ()\n    #tide\n",
        [(2, 4)],
        "class a():\n    def a():\n        ()\n    #tide\n",
    ),
    (
        "a comment below that belongs to the block",
        "python",
        "if a:\n      b( )\n     # tide\nc\n",
        [(2, 2)],
        "if a:\n      b()\n     # tide\nc\n",
    ),
    (
        "a list in one that is opened for it",
        "python",
        "[[\na],a]\n",
        [(1, 1)],
        "[\n    [\n        a,\n    ],\n    a,\n]\n",
    ),
    (
        "a block under a header with a comment in it",
        "python",
        "if (a and\n  # tide\n  b):\n   for x in y:\n      f( )\n      g( )\n",
        [(6, 6)],
        "if (a and\n  # tide\n  b):\n   for x in y:\n      f( )\n      g()\n",
    ),
    (
        "the first of a block",
        "python",
        "if x:\n   a( )\n   b( )\n",
        [(2, 2)],
        "if x:\n   a()\n   b( )\n",
    ),
    ("the end of the file", "python", "x  = 1\ny =  2", [(2, 2)], "x  = 1\ny = 2\n"),
    (
        "one of several texts in brackets",
        "python",
        'x  = (  # c\n    "a"\n    "b")\n',
        [(3, 3)],
        'x = (  # c\n    "a"\n    "b"\n)\n',
    ),
    (
        "a statement that keeps its place for a comment",
        "java",
        "{\n// NOLINT\n    ;}",
        [(3, 3)],
        "{\n// NOLINT\n    ;}\n",
    ),
    (
        "a token of two lines stays",
        "python",
        "if a is\\\nnot b:\n    c( )\n",
        [(3, 3)],
        "if a is\\\nnot b:\n    c()\n",
    ),
    (
        "a statement in a function that is an argument",
        "javascript",
        "it('departs',   function () {\n  a( );\n  b( );\n});\n",
        [(2, 2)],
        "it('departs',   function () {\n  a();\n  b( );\n});\n",
    ),
    (
        "all of such a function",
        "javascript",
        "it('departs',   function () {\n  a( );\n  b( );\n});\n",
        [(2, 3)],
        "it('departs',   function () {\n  a();\n  b();\n});\n",
    ),
    (
        "the end of one statement and the begin of the next in a function that is an argument",
        "javascript",
        "it('departs',   () => {\n  if (a) {\n    b( );\n    c( );\n  }\n\n  if  (d) {\n    e( );\n  }\n  f( );\n});\n",
        [(4, 7)],
        "it('departs',   () => {\n  if (a) {\n    b( );\n    c();\n  }\n\n  if (d) {\n    e( );\n  }\n  f( );\n});\n",
    ),
    (
        "a statement in a function within an expression takes the column of its block",
        "javascript",
        "it('departs',   function () {\n   if (a) { b( ) }\n   c( );\n});\n",
        [(2, 2)],
        "it('departs',   function () {\n   if (a) {\n     b()\n   }\n   c( );\n});\n",
    ),
    (
        "in a function in another one, each with its own column",
        "javascript",
        "a(() => {\n    b(() => {\n       c( );\n       d( );\n    });\n    e( );\n});\n",
        [(3, 3)],
        "a(() => {\n    b(() => {\n       c();\n       d( );\n    });\n    e( );\n});\n",
    ),
    (
        "tabs in a function within an expression",
        "javascript",
        "it( 'departs', function () {\n\tif (a) { b( ) }\n\tc( );\n});\nd( );\n",
        [(2, 2)],
        "it( 'departs', function () {\n\tif (a) {\n\t  b()\n\t}\n\tc( );\n});\nd( );\n",
    ),
    (
        "a statement in a function of which only the closing brace stands elsewhere",
        "javascript",
        "it('departs',   function () {\n    a( );\n    b( );\n });\n",
        [(2, 2)],
        "it('departs', function () {\n  a();\n  b();\n});\n",
    ),
    (
        "the end of a function that is an argument, and the argument behind it",
        "javascript",
        "a(\n  b,\n  () => {\n    c( );\n    d( );\n  },\n  e,   f\n);\n",
        [(5, 7)],
        "a(b, () => {\n  c();\n  d();\n}, e, f);\n",
    ),
    (
        "the same where each argument has its line",
        "javascript",
        "a(\n  bbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbb,\n  () => {\n    c( );\n    d( );\n  },\n  e,   f\n);\n",
        [(5, 7)],
        "a(\n  bbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbbb,\n  () => {\n    c();\n    d();\n  },\n  e,\n  f\n);\n",
    ),
    (
        "a heading in an item of a list whose other lines stay",
        "markdown",
        "-    a\n\n     ```\n     x\n     ```\n\n     #    c\n",
        [(7, 7)],
        "-    a\n\n     ```\n     x\n     ```\n\n     # c\n",
    ),
    (
        "the begin of a call and a statement in a function in it",
        "javascript",
        "it('departs',   function () {\n  a( );\n  b( );\n});\n",
        [(1, 2)],
        "it('departs', function () {\n  a();\n  b();\n});\n",
    ),
    (
        "all statements of a function, and its end",
        "javascript",
        "it('departs',   function () {\n  a( );\n}, 5 );\n",
        [(2, 3)],
        "it('departs', function () {\n  a();\n}, 5);\n",
    ),
    (
        "a statement in a class within an expression",
        "java",
        "class A {\n    B b  = new B() {\n        void f( ) {\n            a( );\n            b( );\n        }\n    };\n}\n",
        [(4, 4)],
        "class A {\n    B b  = new B() {\n        void f( ) {\n            a();\n            b( );\n        }\n    };\n}\n",
    ),
    (
        "a statement in a function in an object",
        "javascript",
        "const a  = {\n  b: 1,\n  c: function () {\n    d( );\n    e( );\n  }\n};\n",
        [(4, 4)],
        "const a  = {\n  b: 1,\n  c: function () {\n    d();\n    e( );\n  }\n};\n",
    ),
    ("an entry", "json", '{\n "a":1,\n "b":2\n}\n', [(3, 3)], '{\n "a":1,\n "b": 2\n}\n'),
    ("a blank line", "python", "a( )\n\n\n\n\nb( )\n", [(3, 3)], "a( )\n\n\n\n\nb( )\n"),
]


def test_where_a_line_begins_that_backslashes_join() -> None:
    data = b"x = \\\n  y\n    \\\n\\\n z\n"
    tree = stilo.load_language("python").read(data).tree
    found = {text: before_on_line(tree, token) for token, text in enumerate(tree.texts)}
    assert found == {b"x": b"", b"=": b"x ", b"y": b"  ", b"z": b"    "}


@pytest.mark.parametrize("what, language, text, lines, wanted", PARTS, ids=[p[0] for p in PARTS])
def test_a_part(
    what: str, language: str, text: str, lines: list[tuple[int, int]], wanted: str
) -> None:
    result = stilo.reformat(text, language, lines=lines)
    assert result.text == wanted
    assert stilo.edits.apply_edits(text.encode(), result.edits) == result.data


def test_margins_as_the_style_writes_them_go_on_with_tabs() -> None:
    text = '{\n  "a": 1,\n  "b": {\n"c":1\n  }\n}\n'
    style = {"indent-with": "tabs", "tab-width": 4}
    result = stilo.reformat(text, "json", style, lines=(4, 4))
    assert result.text == '{\n  "a": 1,\n  "b": {\n\t"c": 1\n  }\n}\n'


def test_line_ends_around_a_part_stay() -> None:
    result = stilo.reformat(b"a( )\r\nb( )\nc( )\r\n", "python", lines=(2, 2))
    assert result.data == b"a( )\r\nb()\nc( )\r\n"


def test_comments_in_a_part_alone_are_wrapped() -> None:
    text = "# one two three four five six seven\n# eight nine ten eleven twelve\nx = 1\n"
    result = stilo.reformat(text, "python", {"comment-columns": 30}, lines=(2, 2))
    assert "".join(result.text.split()) == "".join(text.split())


@pytest.mark.parametrize(
    ("others", "gap"),
    [
        (['"harbour":   2', '"quay":      3'], 7),  # they share a column
        (['"harbour":   2', '"quay": 3'], 1),  # they do not
        (['"harbour": 2', '"tide":    3'], 5),
        (['"sea": 2', '"tide": 3'], 1),
    ],
)
def test_a_cell_in_a_part_is_set_beside_the_lines_that_stay(others: list[str], gap: int) -> None:
    below = "".join(f"    {line},\n" for line in others)
    text, style = f'{{\n    "sea": 1,\n{below}}}\n', {"map-value.column": "yes"}
    result = stilo.reformat(text, "python", style, lines=(2, 2))
    assert result.text == text.replace('"sea": 1', f'"sea":{" " * gap}1')


LEFT = [
    (
        "def f():\n  x  = 1\n  # stilo: leave\n  y = [1,\n    2]\n  if x :\n       z( )\n",
        "def f():\n  x = 1\n  # stilo: leave\n  y = [1,\n    2]\n  if x:\n      z()\n",
    ),
    (
        "def f():\n  if x:\n   # stilo: leave\n   y = [1,\n    2]\n  z( )\ndef g():\n  a( )\n",
        "def f():\n  if x:\n   # stilo: leave\n   y = [1,\n    2]\n  z()\n\n\ndef g():\n    a()\n",
    ),
]


@pytest.mark.parametrize("text, wanted", LEFT)
def test_what_is_left_keeps_its_place_in_its_block(text: str, wanted: str) -> None:
    result = stilo.reformat(text, "python")
    assert result.text == wanted
    assert not stilo.reformat(wanted, "python").changed


def test_docstrings_move_beside_what_is_left() -> None:
    text = 'def f():\n  """One\n       two\n  """\n  # stilo: leave\n  a = [1,\n   2]\n'
    result = stilo.reformat(text, "python", {"docstrings": "align"})
    assert result.text == text.replace("       two", "  two")


def test_a_block_has_a_margin_only_where_a_line_of_it_stays() -> None:
    result = stilo.reformat("if x:\n   a()\n   b()\nif y:\n  c()\n", "python", lines=(3, 3))
    plan, fitted = result._plan, result._fitted
    _, touched = find_kept(plan, fitted, [], [(13, 20)], 4)
    assert touched is not None and len(touched) == 3
    staying = set(range(len(plan.space))).difference(touched)
    columns = {margin.column for margin in find_margins(plan, fitted, staying, 4, bytes).values()}
    assert columns == {0, 3, 2}
    assert find_margins(plan, fitted, set(), 4, bytes) == {}


BOUND = [
    ("x = f(a,\n   b)  # noqa\n", None),
    ("x = f(a,\n   b)  # berth\n", "x = f(a, b)  # berth\n"),
    ("x  = f( a)  # noqa\n", "x = f(a)  # noqa\n"),
    ("if y:\n  x = f(a,\n    b)  # noqa\n", "if y:\n    x = f(a,\n      b)  # noqa\n"),
    ("x = (a or  # type: ignore\n  b)\ny  = 1\n", "x = (a or  # type: ignore\n  b)\ny = 1\n"),
    ("a; b  # noqa\n", None),
    ("x  = 1;  # noqa\n", "x = 1  # noqa\n"),
    ("x = f(  # pragma: no cover\n    a)\n", "x = f(  # pragma: no cover\n    a\n)\n"),
]


@pytest.mark.parametrize("text, wanted", BOUND)
def test_a_comment_that_acts_on_its_line_keeps_the_code_there(
    text: str, wanted: str | None
) -> None:
    result = stilo.reformat(text, "python")
    assert result.text == (wanted or text)
    assert not stilo.reformat(result.text, "python").changed


def test_a_statement_too_long_for_its_line_stays_on_it_for_such_a_comment() -> None:
    text = f"value = function({', '.join(['argument'] * 12)})  # type: ignore\n"
    assert not stilo.reformat(text, "python").changed


def test_why_a_statement_keeps_its_lines_is_told() -> None:
    result = stilo.reformat("x = f(a,\n   b)  # noqa\n", "python")
    decision = result.decision(2)
    assert decision.outcome == "its lines stay as they are"
    assert decision.because.startswith("a comment acts on a line of this statement")
    left = stilo.reformat("# stilo: leave\nx = [1,\n  2]\ny = [1,\n  2]\n", "python")
    assert left.decision(3).because.startswith("a comment leaves it")
    assert not left.decision(3).reasons
    assert left.decision(5).outcome == "1 space, no line break"


def test_comments_of_a_team_act_on_their_lines_too() -> None:
    text = "x = f(a,\n   b)  # berth check\n"
    assert stilo.reformat(text, "python").changed
    style = {"bound-comments": "tide | berth check"}
    assert not stilo.reformat(text, "python", style).changed


def test_a_comment_acts_on_the_line_below() -> None:
    text = "class A {\n    // NOLINT\n    int a = f(1,\n        2);\n    int b = g(1,\n        2);\n}\n"
    kept = text.replace("int b = g(1,\n        2)", "int b = g(1, 2)")
    assert stilo.reformat(text, "java").text == kept


block = st.deferred(
    lambda: st.lists(
        st.one_of(
            st.sampled_from(["a( )", "b  = 1", "f(x,\n y)", "# tide", 'c = """\n x"""']),
            st.tuples(st.sampled_from(["if x :", "while  y:", "def f( ):"]), block),
        ),
        min_size=1,
        max_size=4,
    )
)


def written(items: list[object], margin: str, steps: list[str]) -> str:
    lines = ""
    for item in items:
        if isinstance(item, tuple):
            step = steps[len(margin) % len(steps)]
            inner = written(item[1], margin + step, steps)
            lines += f"{margin}{item[0]}\n{inner}{margin}{step}pass\n"
        else:
            lines += f"{margin}{item}\n"
    return lines


@given(
    block,
    st.sampled_from([["  "], [" ", "   "], ["\t"], ["      "]]),
    st.lists(st.tuples(st.integers(1, 40), st.integers(0, 5)), min_size=1, max_size=3),
)
@settings(max_examples=200, deadline=None)
def test_any_part_of_any_program_is_the_same_program(
    items: list[object], steps: list[str], asked: list[tuple[int, int]]
) -> None:
    text = written(items, "", steps) + "end = 1\n"
    total = text.count("\n")
    lines = [(min(first, total), min(first + more, total)) for first, more in asked]
    result = stilo.reformat(text, "python", lines=lines)
    assert ast.dump(ast.parse(result.text)) == ast.dump(ast.parse(text))
    assert stilo.edits.apply_edits(text.encode(), result.edits) == result.data


@pytest.mark.parametrize("indent", [2, 4, 11])
def test_a_part_of_a_part_is_settled_below_margins_of_spaces_and_tabs(indent: int) -> None:
    """A block takes its margin up where that of the block around it, and the style, leave off."""
    text = '{\n    "deck":{\n"is":[\n{"name":{"lane":{"berth":1}}},\n{"target":"N"}]}}'
    style = {"indent-with": "tabs", "indent": indent}
    style |= {"entries.wrap": "stack-always", "items.authored": "no"}
    once = stilo.reformat(text, "json", style, lines=(3, 4))
    for first in range(3, 9):
        for last in range(first, 9):
            again = stilo.reformat(once.data, "json", style, lines=(first, last))
            assert again.data == once.data
