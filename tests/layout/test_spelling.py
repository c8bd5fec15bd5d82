"""How tokens are spelt, and the lines within them: letters, docstrings, comments beside brackets."""

from __future__ import annotations

import ast

import pytest
from hypothesis import given
from hypothesis import strategies as st

import stilo


@pytest.mark.parametrize(
    "setting, value, text, wanted",
    [
        ("number-letters", "lower", "x = 0XaB + 1E5 + 2J\n", "x = 0xab + 1e5 + 2j\n"),
        ("number-letters", "upper-digits", "x = 0XaB + 1E5 + 0B1\n", "x = 0xAB + 1e5 + 0b1\n"),
        ("number-letters", "keep", "x = 0XaB + 1E5\n", "x = 0XaB + 1E5\n"),
        ("string-letters", "lower", "x = R'\\d', BR'A', 'A'\n", "x = r'\\d', br'A', 'A'\n"),
        ("string-letters", "lower", "x = U'A'\n", "x = u'A'\n"),
    ],
)
def test_letters(setting: str, value: str, text: str, wanted: str) -> None:
    assert stilo.reformat(text, "python", {setting: value}).text == wanted


def docstring(text: str, indent: str) -> str:
    function = "def f():\n" + "".join(f"{indent}{line}" for line in text.splitlines(keepends=True))
    return stilo.reformat(function + "\n", "python", {"docstrings": "align"}).text


@pytest.mark.parametrize(
    "text, wanted",
    [
        ('"""One.\n\n     Two\n       three\n"""', '"""One.\n\n    Two\n      three\n    """'),
        ('"""One."""', '"""One."""'),
        ('"""One.\n\t  Two\n\tthree"""', '"""One.\n      Two\n    three"""'),
        ('"""One.\n      """', '"""One.\n        """'),  # the spaces are part of its value
        ('"""One\\n\n  two\n"""', '"""One\\n\n    two\n  """'),  # an escape may be a line end
        ('r"""One\\n\n two\n"""', 'r"""One\\n\n    two\n    """'),
        ('"""One\n two\tthree\n"""', '"""One\n   two\tthree\n  """'),  # a tab depends on its column
        ('b"""One\n two\n"""', 'b"""One\n   two\n  """'),  # no docstring
    ],
)
def test_docstring(text: str, wanted: str) -> None:
    assert docstring(text, "  ") == f"def f():\n    {wanted}\n"


lines = st.lists(st.text(" \tab'.", max_size=8), max_size=6)


@given(lines, st.sampled_from([" ", "    ", "\t"]), st.sampled_from(["spaces", "tabs"]))
def test_docstring_says_the_same(further: list[str], indent: str, kind: str) -> None:
    text = f'class A:\n{indent}"""Deck {chr(10).join(["", *further])}"""\n{indent}x = 1\n'
    style: dict[str, stilo.Value | str] = {"docstrings": "align", "indent-with": kind}
    result = stilo.reformat(text, "python", style)
    before, after = ast.parse(text).body[0], ast.parse(result.text).body[0]
    assert isinstance(before, ast.ClassDef) and isinstance(after, ast.ClassDef)
    assert ast.get_docstring(before) == ast.get_docstring(after)
    assert not stilo.reformat(result.text, "python", style).changed


def test_margins_count_where_they_are_not_to_move() -> None:
    text = 'def f():\n  """One.\n     Two\n  """\n'
    assert '"""One.\n     Two\n  """' in stilo.reformat(text, "python").text
    from stilo.languages.python.check import first_difference

    moved = text.replace("     Two", "       Two")
    assert first_difference(text.encode(), moved.encode()) == 1
    assert first_difference(text.encode(), moved.encode(), True) == 0
    assert first_difference(b"y\nx = 'a\\n  b'", b"y\nx = 'a\\n b'", True) == 2


def test_comment_wrapped_beside_a_value_that_gets_brackets() -> None:
    text = "# a comment that is long enough to be wrapped\nx = lorries_on_deck + trailers_on_deck\n"
    result = stilo.reformat(text, "python", {"width": 30, "comment-columns": 30})
    assert (
        result.text == "# a comment that is long\n# enough to be wrapped\n"
        "x = (\n    lorries_on_deck\n    + trailers_on_deck\n)\n"
    )
