"""What Python's own reading of two texts answers, which every result must pass."""

from __future__ import annotations

import ast

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

import stilo
from stilo.languages.python import tokens as python_tokens
from stilo.languages.python.check import first_difference

ALIKE = [
    ("x=1", "x = 1"),
    ("x = a", "x = (\n  a\n)"),
    ("a; b;\nc", "a\nb\nc"),
    ("if x: y; z\nelse: w\nv", "if x:\n  y\n  z\nelse:\n  w\nv"),
    ("if a:\n if b: c;\n d", "if a:\n  if (b):\n    c\n  d"),
    ("def f():\n  if x: return (a)", "def f():\n    if x:\n        return a"),
    ("for x in lambda: 1: y", "for x in (lambda: 1):\n  y"),
    ("if a:\n  b\nelif (c): d", "if a:\n  b\nelif c:\n  d"),
    ("try: a\nexcept (B): c", "try:\n a\nexcept B:\n c"),
    ("match (x):\n case (1): y", "match x:\n case 1:\n  y"),
    ("@(a)\ndef f(): ...", "@a\ndef f(): ..."),
    ("x = f'{f\"({a}\"}' + 'ä' # ö\ny = (2)", "x=(f'{f\"({a}\"}'   + 'ä')\ny = 2"),
]
NOT_ALIKE = [
    ("x=1", "x = 2"),
    ("x = (a + b) - c", "x = a + (b - c)"),
    ("x = (a,)", "x = a"),
    ("x = ((yield),)", "x = (yield)"),
    ("if x: y\nz", "if x:\n    y\n    z"),
    ("if x:\n  y\nz", "if x:\n  y\n  z"),
    ("if a: b\nelse: c", "if a:\n b\nc"),
    ("a; b", "a"),
    ("a", "a\nb"),
    ("f'{a=}'", "f'{a =}'"),
    ("'''a\n b'''", "'''a\n  b'''"),
]


@pytest.fixture(params=["tokens", "trees"])
def way(request: pytest.FixtureRequest, monkeypatch: pytest.MonkeyPatch) -> None:
    """Both ways in which texts are compared; the second is there where the first cannot tell."""
    if request.param == "trees":
        monkeypatch.setattr(python_tokens, "TokenizerIter", None)


@pytest.mark.parametrize("one, other", ALIKE)
def test_the_same_program(way: None, one: str, other: str) -> None:
    assert first_difference(one.encode(), other.encode()) == 0
    assert first_difference(other.encode(), one.encode()) == 0


@pytest.mark.parametrize("one, other", NOT_ALIKE)
def test_another_program(way: None, one: str, other: str) -> None:
    assert first_difference(one.encode(), other.encode()) > 0


@pytest.mark.parametrize(
    "text", ["x = (", "\\", "x\n\\\n", "if a:\n  b\n  \\", "def f():\nx", "x\n  y"]
)
def test_what_is_no_program_is_told(way: None, text: str) -> None:
    with pytest.raises(SyntaxError):
        first_difference(text.encode(), text.encode() + b"\n")


@pytest.mark.parametrize("one, other", ALIKE)
def test_tokens_alone_tell(one: str, other: str) -> None:
    def same_tree(one: str, other: str) -> bool:
        return ast.dump(ast.parse(one)) == ast.dump(ast.parse(other))

    assert python_tokens.are_alike(one, other, same_tree)


@pytest.mark.parametrize(
    "one, other",
    [
        ("f(a, b)", "f(a, b,)"),
        ("x[a, (b, c)]", "x[a, (b, c,),]"),
        ("x += a if b else c", "x += (a if b else c)"),
        ("if a == f(b, c): d", "if (a == f(b, c,)):\n  d"),
        ("def f():\n  return a == b", "def f():\n  return (a == b)"),
    ],
)
def test_what_surely_says_nothing_needs_no_tree(one: str, other: str) -> None:
    def same_tree(one: str, other: str) -> bool:
        pytest.fail("a tree was made")

    assert python_tokens.are_alike(one, other, same_tree)


@pytest.mark.parametrize(
    "one, other",
    [
        ("x = y = z", "x = (y = z)"),
        ("x = *a,", "x = (*a),"),
        ("x = *a", "x = (*a)"),
        ("x = (a, b)", "x = (a, b,,)"),
        ("x = (lambda a, b: c)", "x = (lambda a, b: c,)"),
        ("f = lambda x=1: x", "f = lambda x=(1: x)"),
        ("x = (y for z in w)", "x = y for z in w"),
        ("if (x := y): z", "if x := y, w: z"),
        ("x in a == b", "x in (a == b)"),
        ("assert (a, b)", "assert a, b"),
    ],
)
def test_what_may_say_something_is_left_to_trees(one: str, other: str) -> None:
    assert not python_tokens.are_alike(one, other, lambda one, other: False)


def test_what_is_not_edited_need_not_be_known_to_this_python() -> None:
    text = "print  'deck'\nx = a\n"
    assert stilo.reformat(text, "python").text == "print 'deck'\nx = a\n"


lines = st.lists(
    st.sampled_from([
        "if a: b; c",
        "if (a):",
        "else: c",
        "elif b: a",
        "  b = (c, d)",
        "  c",
        "    d",
        "x = lambda: (y)",
        "for x in (a): b",
        "try: a",
        "except (B): c",
        "match a:",
        "  case (b): c",
        "case: int = 3",
        "class A: x = 1; y = f'{a}'",
        "return",
        "x = y = (a)",
        "x = [a, (b, c,),]",
        "x = (a for b in (c))",
        "x += (*a,)",
        "f(a, lambda b, c: d,)",
        "if (a := b, c): d",
        "while (not a): b",
    ]),
    min_size=1,
    max_size=6,
)
changes = st.lists(
    st.tuples(st.integers(0, 90), st.sampled_from(["(", ")", ";", "\n", "\n  ", " ", ",", "", ""])),
    max_size=3,
)


@given(lines, changes)
@settings(max_examples=400, deadline=None)
def test_what_tokens_tell_trees_tell_too(parts: list[str], edits: list[tuple[int, str]]) -> None:
    one = other = "\n".join(parts) + "\n"
    for at, sign in edits:
        at = min(at, len(other))
        other = other[:at] + sign + other[at + (not sign):]

    def shape(text: str) -> str | None:
        try:
            return ast.dump(ast.parse(text))
        except SyntaxError:
            return None

    def same_tree(one: str, other: str) -> bool:
        return ast.dump(ast.parse(one)) == ast.dump(ast.parse(other))

    if python_tokens.are_alike(one, other, same_tree):
        assert shape(one) == shape(other)
