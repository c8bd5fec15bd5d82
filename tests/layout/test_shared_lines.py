"""Statements that share a line, and bodies on the line of their header."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

import stilo

CASES = [
    ("each on its own", {}, "a = 1; b = 2\n", "a = 1\nb = 2\n"),
    ("imports", {}, "import a; import b; c\n", "import a\nimport b\n\nc\n"),
    ("behind each other", {"semicolons": "keep"}, "a=1;b=2;\nc\n", "a = 1; b = 2\nc\n"),
    (
        "just too long with the sign",
        {"semicolons": "keep", "width": 21},
        "berth=1;harbour=2\n",
        "berth = 1\nharbour = 2\n",
    ),
    (
        "just not",
        {"semicolons": "keep", "width": 22},
        "berth=1;harbour=2\n",
        "berth = 1; harbour = 2\n",
    ),
    (
        "too long together",
        {"semicolons": "keep", "width": 20},
        "berth=1;harbour=22\n",
        "berth = 1\nharbour = 22\n",
    ),
    (
        "one of many lines",
        {"semicolons": "keep"},
        "a;f(1, # c\n2);b\n",
        "a\nf(\n    1,  # c\n    2\n)\nb\n",
    ),
    ("a text of many lines", {"semicolons": "keep"}, "a;b;'''\n''';c\n", "a; b\n'''\n'''\nc\n"),
    ("not by a line end", {"semicolons": "keep"}, "a;\nb;c # d\n", "a\nb; c  # d\n"),
    ("in a body", {"semicolons": "keep"}, "if x: a; b\n", "if x:\n    a; b\n"),
    ("a body below", {}, "if x: a\n", "if x:\n    a\n"),
    (
        "as its author wrote it",
        {"suite.short": "authored"},
        "if x: a\nif y:\n  b\n",
        "if x: a\nif y:\n    b\n",
    ),
    (
        "wherever it fits",
        {"suite.short": "fits"},
        "if x:\n  a\nelse:\n  b # c\n",
        "if x: a\nelse: b  # c\n",
    ),
    (
        "not with a comment",
        {"suite.short": "fits"},
        "if x:\n  # c\n  a\n",
        "if x:\n    # c\n    a\n",
    ),
    ("not two", {"suite.short": "fits"}, "if x:\n  a\n  b\n", "if x:\n    a\n    b\n"),
    ("not around another", {"suite.short": "fits"}, "if x:\n  if y: a\n", "if x:\n    if y: a\n"),
    (
        "too long",
        {"suite.short": "fits", "width": 20},
        "if full: close(ramp_1)\n",
        "if full:\n    close(ramp_1)\n",
    ),
    (
        "too long below, too",
        {"suite.short": "fits", "width": 20},
        "if x: fare = adults + children\n",
        "if x:\n    fare = (\n        adults\n        + children\n    )\n",
    ),
    ("of three dots", {}, "def f():\n  ...\ndef g(): ...\n", "def f(): ...\ndef g(): ...\n"),
    (
        "and apart from others",
        {},
        "def f(): ...\nclass A:\n  x = 1\n",
        "def f(): ...\n\n\nclass A:\n    x = 1\n",
    ),
    (
        "brackets as they are",
        {"value-brackets": "keep"},
        "x = (a +\n b)\ny = c\n",
        "x = (a + b)\ny = c\n",
    ),
    (
        "none come",
        {"value-brackets": "keep", "width": 20},
        "x = lorries + trailers\n",
        "x = lorries + trailers\n",
    ),
    (
        "but others open",
        {"value-brackets": "keep", "width": 20},
        "x = fare(adults) + fare(dogs)\n",
        "x = fare(\n    adults\n) + fare(dogs)\n",
    ),
    (
        "none share a line that would be too far in",
        {"semicolons": "keep", "suite.short": "fits", "width": 20},
        "while full:\n  if empty: a; a; x = [1,\n 2]\n",
        "while full:\n    if empty:\n        a\n        a\n        x = [1, 2]\n",
    ),
]


@pytest.mark.parametrize("style, text, wanted", [c[1:] for c in CASES], ids=[c[0] for c in CASES])
def test_case(style: dict[str, stilo.Value | str], text: str, wanted: str) -> None:
    result = stilo.reformat(text, "python", style)
    assert result.text == wanted
    again = stilo.reformat(wanted, "python", style)
    assert not again.changed and not again.findings


runs = st.lists(
    st.sampled_from(["a", "board(lorry)", "x = [1,\n 2]", "fare = adults + children", "pass"]),
    min_size=1,
    max_size=3,
).map("; ".join)
FORMS = [
    "{}",
    "if full: {}",
    "if full:\n  {}\n  {}",
    "while full:\n  if empty: {}",
    "if full: {} # deck",
]


@given(
    st.lists(st.tuples(st.sampled_from(FORMS), runs), max_size=3),
    st.sampled_from(["split", "keep"]),
    st.sampled_from(["never", "authored", "fits"]),
    st.sampled_from(["fit", "keep"]),
    st.integers(20, 50),
)
def test_any_statements_stay_and_settle(
    parts: list[tuple[str, str]], semicolons: str, short: str, brackets: str, width: int
) -> None:
    text = "".join(form.format(run, run) + "\n" for form, run in parts)
    style: dict[str, stilo.Value | str] = {
        "semicolons": semicolons,
        "suite.short": short,
        "value-brackets": brackets,
        "width": width,
    }
    result = stilo.reformat(text, "python", style)
    again = stilo.reformat(result.text, "python", style)
    assert again.text == result.text


@pytest.mark.parametrize("brace, column", [("own-line", 8), ("own-line-in", 12)])
def test_a_short_body_on_its_own_line_goes_by_the_statement(brace: str, column: int) -> None:
    text = "class A {{for (int berth = 0; berth < berths; berth++) { moor(); }}}"
    style = {"control-body.brace": brace, "control-body.short": "fits", "width": 30}
    lines = stilo.reformat(text, "java", style).text.splitlines()
    assert " " * column + "{ moor(); }" in lines
    assert "                berth++)" in lines
