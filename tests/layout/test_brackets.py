"""Brackets of their own: where they come, where they go, and that the program stays."""

from __future__ import annotations

import ast
import re

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

import stilo

LONG = "lorries_on_the_upper_deck + trailers_on_the_main_deck"

CASES = [
    (
        "they come where a value does not fit",
        f"x = {LONG}",
        40,
        "x = (\n    lorries_on_the_upper_deck\n    + trailers_on_the_main_deck\n)",
    ),
    ("and go where it does", "x = (a +\n  b)", 40, "x = a + b"),
    ("one that could be a list of names stays", "x = (a, b)", 40, "x = (a, b)"),
    ("one around a comparison shows what is assigned", "x = (a == b)", 40, "x = (a == b)"),
    (
        "and it takes columns",
        "okay = (aaaaaaa == bbbbbbb)",
        26,
        "okay = (\n    aaaaaaa == bbbbbbb\n)",
    ),
    ("one around a test does not", "if (a == b): pass", 40, "if a == b:\n    pass"),
    (
        "none comes around a text that is too long even so",
        f"x = '{'lorry ' * 8}'",
        40,
        f"x = '{'lorry ' * 8}'",
    ),
    (
        "none come around a text that reaches the width by itself",
        f"x = '{'l' * 34}'",
        40,
        f"x = '{'l' * 34}'",
    ),
    (
        "they come around one that reaches it in them",
        f"xx = '{'l' * 34}'",
        40,
        f"xx = (\n    '{'l' * 34}'\n)",
    ),
    ("one around a name stays", "x = (a)", 40, "x = (a)"),
    ("those in others stay", "x = ((a + b))", 40, "x = ((a + b))"),
    ("one that the value needs stays", "x = (yield)", 40, "x = (yield)"),
    ("one that joins a walrus stays", "x = (y := 1)", 40, "x = (y := 1)"),
    ("names imported", "from a import (b, c,)", 40, "from a import b, c"),
    (
        "names that do not fit",
        "from tide import high_tide, low_tide, spring",
        40,
        "from tide import (\n    high_tide, low_tide, spring\n)",
    ),
    ("joins by a backslash", "x = a + \\\n  b", 40, "x = a + b"),
    (
        "a comment within keeps them",
        "x = (a  # deck\n + b)",
        40,
        "x = (\n    a  # deck\n    + b\n)",
    ),
    (
        "a call is opened by its own",
        "x = f(a_long_name_of_a_lane, another_name)",
        40,
        "x = f(\n    a_long_name_of_a_lane, another_name\n)",
    ),
    ("semicolons", "a = 1; b = 2;", 40, "a = 1\nb = 2"),
    (
        "a return of several",
        "def f():\n  return a_long_name_of_a_lane, another_name",
        40,
        "def f():\n    return (\n        a_long_name_of_a_lane,\n        another_name,\n    )",
    ),
    (
        "a deletion",
        "del a_long_name_of_a_lane, another_name_too",
        40,
        "del (\n    a_long_name_of_a_lane,\n    another_name_too,\n)",
    ),
]


@pytest.mark.parametrize("sign", "= += -= *= /= //= %= **= @= &= |= ^= <<= >>=".split())
def test_they_come_behind_each_assignment(sign: str) -> None:
    result = stilo.reformat(f"x {sign} {LONG}\n", "python", {"width": 40})
    assert (
        result.text
        == f"x {sign} (\n    lorries_on_the_upper_deck\n    + trailers_on_the_main_deck\n)\n"
    )


@pytest.mark.parametrize("text, width, wanted", [c[1:] for c in CASES], ids=[c[0] for c in CASES])
def test_case(text: str, width: int, wanted: str) -> None:
    result = stilo.reformat(text, "python", {"width": width})
    assert result.text == wanted + "\n"
    again = stilo.reformat(result.text, "python", {"width": width})
    assert not again.changed and not again.findings


def test_findings_name_the_brackets() -> None:
    messages = [f.message for f in stilo.reformat("x = (a + b);\n", "python").findings]
    assert messages == [
        '"(" not wanted before "a"',
        '")" not wanted after "b"',
        '";" not wanted at the end of a line',
    ]


@pytest.mark.parametrize(
    "text, message",
    [
        ("def f():\n\n\nx  = 1\n", "text:4:1: syntax error: expected an indented block"),
        (f"raise Refused, {'vehicle.' * 9}height\n", "text:1:"),
    ],
)
def test_what_python_does_not_read_is_left(text: str, message: str) -> None:
    with pytest.raises(stilo.SyntaxFault) as caught:
        stilo.reformat(text, "python")
    assert str(caught.value).startswith(message)


@pytest.mark.parametrize(
    "rule, text, place",
    [
        ('assignment > "=" { before: line }', "a\nx = 1\n", "2:3"),
        ("block.suite { hang: none }", "a\nif x:\n  y\n  z\n", "2:1"),
    ],
)
def test_a_rule_that_would_break_code_is_told_with_the_place(
    rule: str, text: str, place: str
) -> None:
    with pytest.raises(stilo.UnsafeResult) as caught:
        stilo.reformat(text, stilo.define_language(rule, on="python"))
    assert str(caught.value).startswith(f"text:{place}: the result would read differently")


tails = st.sampled_from(["", ","])
names = st.sampled_from(["a", "deck", "harbour_of_departure", "trailers_on_the_main_deck"])
values = st.recursive(
    names | st.sampled_from(["1", "'upper'", "-x", "not y", "None", "lane[1:n + 2]", "lambda: x"]),
    lambda inner: st.one_of(
        st.tuples(
            inner, st.sampled_from(["+", "*", "and", "or", "<", "in", "**", "if x else"]), inner
        ).map(lambda p: f"({p[0]}) {p[1]} ({p[2]})"),
        st.tuples(inner, inner, tails).map(lambda p: f"f({p[0]}, key={p[1]}{p[2]})"),
        inner.map(lambda x: f"ship.decks({x}).first()[0]"),
        st.tuples(st.lists(inner, min_size=1, max_size=3), tails).map(
            lambda p: f"[{', '.join(p[0])}{p[1]}]"
        ),
        st.tuples(st.lists(inner, min_size=2, max_size=3), tails).map(
            lambda p: f"({', '.join(p[0])}{p[1]})"
        ),
        st.tuples(inner, tails).map(lambda p: f"{{'berth': {p[0]}{p[1]}}}"),
        st.tuples(inner, inner).map(lambda p: f"({p[0]}) == [{p[1]}]"),
        inner.map(lambda x: f"'%s' 'and' % ({x}, 1)"),
        inner.map(lambda x: f"[i for i in ({x}) if i]"),
        inner.map(lambda x: f"({x})"),
    ),
    max_leaves=6,
)
statements = st.one_of(
    values.map(lambda x: f"lane = {x}"),
    values.map(lambda x: f"lanes[{x}] += {x}"),
    values.map(lambda x: f"return {x}, {x}"),
    values.map(lambda x: f"return ({x}  # why\n  )"),
    st.tuples(values, values).map(lambda p: f"assert {p[0]}, {p[1]}"),
    values.map(lambda x: f"if {x}: pass\n elif {x}: sail(); moor()"),
    values.map(lambda x: f"for i in {x}, {x}: continue"),
    st.tuples(values, values).map(lambda p: f"with f({p[0]}) as x, {p[1]} as y: pass"),
    values.map(lambda x: f"raise E({x}) from {x}"),
    values.map(lambda x: f"lane = yield {x}, {x}"),
    values.map(lambda x: f"while {x}: break"),
    st.just("del deck, harbour_of_departure, lane"),
    st.just("from line.skerry import deck, harbour_of_departure as x, lane"),
)


@settings(deadline=None, max_examples=150, suppress_health_check=[HealthCheck.too_slow])
@given(st.lists(statements, min_size=1, max_size=3), st.integers(20, 79))
def test_any_statements_keep_their_tree_and_settle(rows: list[str], width: int) -> None:
    text = "def f():\n" + "".join(f" {row}\n" for row in rows)
    result = stilo.reformat(text, "python", {"width": width})

    def tree(source: str) -> str:
        parsed = ast.parse(source)
        for node in ast.walk(parsed):
            if isinstance(node, ast.Delete) and isinstance(node.targets[0], ast.Tuple):
                node.targets = node.targets[0].elts
        return ast.dump(parsed)

    assert tree(result.text) == tree(text)
    # A separator after a last item stands at the end of its line, or is not there.
    assert not re.search(r",[)\]}]", result.text)
    assert result.text.count("#") == text.count("#")
    again = stilo.reformat(result.text, "python", {"width": width})
    assert again.text == result.text
    assert not again.findings
