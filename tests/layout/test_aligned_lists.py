"""Lists whose lines their author set under their first item, and terms on lines of their own."""

from __future__ import annotations

import random

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

import stilo
from stilo.sheet.needs import idle_while

CASES = [
    (
        "arguments under the first one",
        "python",
        "moor('Gull', berth=4,\n     quay='north', lines=[1, 2])\n",
        {"width": 40},
        "moor('Gull', berth=4,\n     quay='north', lines=[1, 2])\n",
    ),
    (
        "arguments that are not",
        "python",
        "moor('Gull', berth=4,\n    quay='north', lines=[1, 2])\n",
        {"width": 40},
        "moor(\n    'Gull',\n    berth=4,\n    quay='north',\n    lines=[1, 2]\n)\n",
    ),
    (
        "arguments that fit on a line",
        "python",
        "moor('Gull',\n     berth=4)\n",
        {"width": 40},
        "moor('Gull', berth=4)\n",
    ),
    (
        "rows of which one is too long",
        "python",
        "moor('Gull', berth=4, quay='north',\n     lines=[1, 2])\n",
        {"width": 32},
        "moor('Gull', berth=4,\n     quay='north', lines=[1, 2])\n",
    ),
    (
        "no room under the first item",
        "python",
        "make_fast_all_lines_of('a sailing', ['north',\n                                     'south'])\n",
        {"width": 30},
        "make_fast_all_lines_of(\n    'a sailing',\n    ['north', 'south']\n)\n",
    ),
    (
        "the closing bracket begins a line",
        "python",
        "moor('Gull', berth=4,\n     quay='north', lines=[1, 2]\n     )\n",
        {"width": 40},
        "moor(\n    'Gull',\n    berth=4,\n    quay='north',\n    lines=[1, 2]\n)\n",
    ),
    (
        "comments at the ends of lines",
        "python",
        "moor('Gull',  # late\n     berth=4)  # free\n",
        {},
        "moor('Gull',  # late\n     berth=4)  # free\n",
    ),
    (
        "a comment between two items",
        "python",
        "moor('Gull',\n     # free\n     berth=4)\n",
        {},
        "moor(\n    'Gull',\n    # free\n    berth=4\n)\n",
    ),
    (
        "tabs",
        "python",
        "if x:\n\tmoor('Gull', berth=4,\n\t     quay='north', lines=[1])\n",
        {"width": 40},
        "if x:\n    moor('Gull', berth=4,\n         quay='north', lines=[1])\n",
    ),
    (
        "a table in a call, which stays closed around it",
        "python",
        "a = plan([[4, 2],\n          [1, 3]], dtype=int)\n",
        {},
        "a = plan([[4, 2],\n          [1, 3]], dtype=int)\n",
    ),
    (
        "a table in a call that its author opened",
        "python",
        "a = plan(\n    [[4, 2],\n     [1, 3]], dtype=int)\n",
        {},
        "a = plan(\n    [[4, 2],\n     [1, 3]],\n    dtype=int\n)\n",
    ),
    (
        "a table under an argument, in a call in a call",
        "python",
        "check([], fleet.find(name, [[1, 2, 3],\n                            [4, 5, 6]]))\n",
        {"width": 40},
        "check([], fleet.find(name, [[1, 2, 3],\n                            [4, 5, 6]]))\n",
    ),
    (
        "a table that is too far to the right",
        "python",
        "check([], fleet.find(name, [[1, 2, 3],\n                            [4, 5, 6]]))\n",
        {"width": 36},
        "check(\n    [],\n    fleet.find(name, [[1, 2, 3],\n                      [4, 5, 6]])\n)\n",
    ),
    (
        "a text in pieces under its first one",
        "python",
        "raise Late('the sailing to {} '\n           'is late', quay)\n",
        {},
        "raise Late('the sailing to {} '\n           'is late', quay)\n",
    ),
    (
        "an operand under the first one",
        "python",
        "raise Late('the sailing to %s is late'\n           % name) from None\n",
        {"width": 40},
        "raise Late('the sailing to %s is late'\n           % name) from None\n",
    ),
    (
        "a comprehension",
        "python",
        "free = [berth for berth in berths\n        if berth.length > 40]\n",
        {"width": 40},
        "free = [berth for berth in berths\n        if berth.length > 40]\n",
    ),
    (
        "no room for what follows the last row",
        "python",
        "a = moor(gull, tern,\n         quay, deck).free\n",
        {"width": 24},
        "a = moor(\n    gull, tern, quay,\n    deck\n).free\n",
    ),
    (
        "a table whose rows stand elsewhere",
        "python",
        "a = plan([[4, 2],\n    [1, 3]])\n",
        {},
        "a = plan([\n    [4, 2],\n    [1, 3],\n])\n",
    ),
    (
        "rows below an item that is to stay beside its bracket",
        "python",
        "a = ['gull',\n     'tern', 'auk', 'skua', 'eider']\n",
        {"width": 36, "items.open": "same-line", "items.align": "no"},
        "a = ['gull',\n    'tern',\n    'auk',\n    'skua',\n    'eider']\n",
    ),
    (
        "tabs of which the style says the width",
        "python",
        "if x:\n\tmoor('Gull',  # late\n\t\t berth=4)\n",
        {"indent-with": "tabs", "tab-width": 4},
        "if x:\n\tmoor('Gull',  # late\n\t\t berth=4)\n",
    ),
    (
        "a call around one with a body goes by the rules for bodies",
        "java",
        "int a = moor(dock(f(x, y),\n                  dock(a + b), b -> { f(b); }));\n",
        {"width": 60},
        "int a = moor(\n        dock(f(x, y), dock(a + b), b -> {\n            f(b);\n        }));\n",
    ),
    (
        "a list with a body is not aligned, nor are calls around it closed for what is",
        "java",
        'int a = moor(dock(dock("x"),\n                  "y", gull), dock(gull, b -> { f(b); },\n'
        '                                   f(x, y)), tern);\n',
        {"width": 60},
        "int a = moor(\n        dock(dock(\"x\"), \"y\", gull),\n        dock(\n                gull,\n"
        "                b -> {\n                    f(b);\n                },\n                f(x, y)),\n"
        "        tern);\n",
    ),
    (
        "strings that have a line each in a list that is aligned",
        "c",
        'int x = f(stderr, "a"\n                  "b",\n          ship);\n',
        {},
        'int x = f(stderr, "a"\n                  "b",\n          ship);\n',
    ),
    (
        "a text in an element is no row of terms",
        "javascript",
        "a = <p> BoatsBoats\n<b></b></p>;\n",
        {"width": 20},
        "a = <p> BoatsBoats\n  <b></b>\n</p>;\n",
    ),
    (
        "everything canonical, if settings have it",
        "python",
        "a = plan([[4, 2],\n          [1, 3]], [berth,\n                    quay])\n",
        {"*.align": "no", "*.authored": "no"},
        "a = plan([[4, 2], [1, 3]], [berth, quay])\n",
    ),
    (
        "parameters",
        "java",
        "class A {\n    A(String name, int berth,\n      Quay quay) {\n    }\n}\n",
        {"width": 30},
        "class A {\n    A(String name, int berth,\n      Quay quay) {}\n}\n",
    ),
    (
        "arguments",
        "c",
        "void f(void)\n{\n    moor(gull, 4,\n         north, lines);\n}\n",
        {"width": 24},
        "void f(void)\n{\n    moor(gull, 4,\n         north, lines);\n}\n",
    ),
    (
        "a list is not aligned where the language does not have it so",
        "javascript",
        "moor('Gull', 4,\n     north, lines)\n",
        {"width": 24},
        "moor(\n  'Gull',\n  4,\n  north,\n  lines\n)\n",
    ),
    (
        "terms in rows, which count where they are broken",
        "java",
        "int a = first\n    + second + third\n    + fourth;\nint b = x\n    + y;\n",
        {"width": 30},
        "int a = first\n        + second + third\n        + fourth;\nint b = x + y;\n",
    ),
    (
        "terms with operators at the ends of lines",
        "java",
        "int a = first |\n    second |\n    third;\n",
        {"width": 20},
        "int a = first\n        | second\n        | third;\n",
    ),
    (
        "terms with operators at the ends of lines, where these stay there",
        "c",
        "int a = first\n    | second |\n    third;\n",
        {"width": 20, "operation.breaks": "after"},
        "int a = first |\n        second |\n        third;\n",
    ),
    (
        "terms in rows, the first of which begins further out than the others",
        "java",
        "void f() {\n    a = first + lanes\n        + c\n        + d;\n}\n",
        {"width": 22},
        "void f() {\n    a = first + lanes\n            + c\n            + d;\n}\n",
    ),
    (
        "a closing bracket that stands under the items is none of them",
        "python",
        "a = ['gull', 'tern',\n     'auk', 'skua',\n     'eider', 'knot',\n     ]\n",
        {"width": 40},
        "a = [\n    'gull', 'tern',\n    'auk', 'skua',\n    'eider', 'knot',\n]\n",
    ),
    (
        "terms in rows that do not fit",
        "java",
        "int a = first\n    + second + third + fourth;\n",
        {"width": 26},
        "int a = first + second\n        + third + fourth;\n",
    ),
    (
        "terms in rows, if a setting fills the lines",
        "java",
        "int a = first\n    + second\n    + third + fourth;\n",
        {"width": 40, "operation.authored": "no"},
        "int a = first + second + third + fourth;\n",
    ),
    (
        "a text that begins with a value, in lines",
        "javascript",
        "late(`${sailing} is ` +\n  'late: ' +\n  'wait')\n",
        {"width": 24},
        "late(\n  `${sailing} is ` +\n    'late: ' +\n    'wait'\n)\n",
    ),
]


@pytest.mark.parametrize("what, language, text, style, wanted", CASES, ids=[c[0] for c in CASES])
def test_lines(what: str, language: str, text: str, style: dict[str, object], wanted: str) -> None:
    result = stilo.reformat(text, language, style)
    assert result.text == wanted
    assert not stilo.reformat(result.text, language, style).changed


def test_why_an_item_stands_there() -> None:
    result = stilo.reformat("moor(a_sailing,\n     the_quay)\n", "python", {"width": 20})
    decision = result.decision(2, 6)
    assert "arguments.align" in [reason.setting for reason in decision.reasons]
    assert "arguments.align" in result.settings_consulted


def test_what_has_no_room_there_is_not_said_to_be_aligned() -> None:
    text = "moor(dock(a_sailing_of_ours,\n          a_quay))\n"
    result = stilo.reformat(text, "python", {"width": 24})
    assert result.text == "moor(dock(\n    a_sailing_of_ours,\n    a_quay\n))\n"
    for line in (1, 2):
        reasons = result.decision(line, 11).reasons
        assert "arguments.align" not in [reason.setting for reason in reasons]


def test_an_alignment_that_has_no_effect_is_said_to_have_none() -> None:
    values = stilo.load_language("python").defaults()
    assert idle_while("arguments.align", values) == ""
    assert idle_while("arguments.align", {**values, "arguments.align": "no"}) == ""
    assert idle_while("arguments.align", {**values, "arguments.align": "yes"}) == "arguments.open"


#: A call, the arguments it may have, and what ends it.
CALLS = {
    "python": ("moor(", ")\n", ["gull", "'a berth'", "f(x, y)", "[1, 2]", "(a,\n b)", "a + b"]),
    "java": ("int a = moor(", ");\n", ["gull", '"a berth"', "f(x, y)", "b -> { f(b); }", "a + b"]),
    "cpp": ("int a = moor(", ");\n", ["gull", '"a berth"', "f(x, y)", "{1, 2}", "a << b << c"]),
}


@pytest.mark.parametrize("language", CALLS)
@settings(max_examples=60, deadline=None)
@given(data=st.data())
def test_what_is_aligned_is_settled(language: str, data) -> None:
    """Calls in calls, some of whose lines stand under their first argument, whatever spaces are within these."""
    head, tail, kinds = CALLS[language]
    chance = random.Random(data.draw(st.integers()))

    def call(head: str, column: int, depth: int) -> str:
        column += len(head)
        text = head
        for number in range(data.draw(st.integers(1, 5))):
            if number:
                text += "," + ("\n" + " " * column if data.draw(st.booleans()) else blank())
            at = len(text.rpartition("\n")[2]) + (0 if "\n" in text else column - len(head))
            if depth and data.draw(st.integers(0, 3)) == 0:
                text += call("dock(", at, depth - 1) + ")"
            else:
                text += data.draw(st.sampled_from(kinds)).replace("\n", "\n" + " " * at)
        return text

    def blank() -> str:
        return chance.choice([" ", "  ", ""])

    style = {"width": data.draw(st.sampled_from([20, 32, 60]))}
    result = stilo.reformat(call(head, 0, 2) + tail, language, style)
    again = stilo.reformat(result.text, language, style)
    assert again.text == result.text
