"""Rows of lists as their author has them."""

from __future__ import annotations

import random
import re

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

import stilo

#: A list with a place for white space before each item, and one before its end; what its items are apart by.
LISTS = {
    "json": ("[@]\n", ["1", "-2.5", '"quay"', "[1, 2]", '{"a": 1}']),
    "python": ("berths = [@]\n", ["1", "f(a, b)", "'quay'", "(1, 2)", "x + y", "[]"]),
    "java": ("int[][] berths = {@};\n", ["{1}", "{1, 2}", "{}"]),
    "toml": ("berths = [@]\n", ["1", '"quay"', "[1, 2]"]),
}


def text_of(language: str, items: list[str], starts: list[bool], blank) -> str:
    """A list whose items begin a line where they are said to, the first one always."""
    frame, _ = LISTS[language]
    inside = "".join(
        ("\n" if number == 0 or starts[number] else "")
            + blank()
            + item
            + ("," if number + 1 < len(items) else "")
        for number, item in enumerate(items)
    )
    return frame.replace("@", f"{inside}\n{blank()}")


@pytest.mark.parametrize("language", LISTS)
@settings(max_examples=60, deadline=None)
@given(data=st.data())
def test_the_same_rows_give_the_same_result(language: str, data) -> None:
    """Whatever the white space within them; and the result, laid out again, is the same."""
    items = data.draw(st.lists(st.sampled_from(LISTS[language][1]), min_size=2, max_size=14))
    starts = data.draw(st.lists(st.booleans(), min_size=len(items), max_size=len(items)))
    width = data.draw(st.sampled_from([20, 30, 80]))
    chance = random.Random(data.draw(st.integers()))
    plain = text_of(language, items, starts, lambda: "")
    odd = text_of(language, items, starts, lambda: chance.choice([" ", "\t", "   ", ""]))
    result = stilo.reformat(plain, language, {"width": width})
    assert stilo.reformat(odd, language, {"width": width}).text == result.text
    assert not stilo.reformat(result.text, language, {"width": width}).changed
    rows = plain.splitlines()[1:-1]
    if all(len(row.replace(",", ", ")) <= width - 8 for row in rows):
        assert len(result.text.splitlines()) == len(rows) + 2, result.text


@pytest.mark.parametrize("language", LISTS)
@settings(max_examples=60, deadline=None)
@given(data=st.data())
def test_rows_below_the_first_item_give_the_same_result(language: str, data) -> None:
    """Whatever the spaces within them; and the result, laid out again, is the same."""
    frame, kinds = LISTS[language]
    items = data.draw(st.lists(st.sampled_from(kinds), min_size=2, max_size=14))
    starts = data.draw(st.lists(st.booleans(), min_size=len(items), max_size=len(items)))
    width = data.draw(st.sampled_from([20, 30, 80]))
    chance = random.Random(data.draw(st.integers()))
    head, tail = frame.split("@")
    below = ",\n" + " " * len(head)

    def text(blank) -> str:
        between = (below if begins else "," + blank() for begins in starts[1:])
        return head + items[0] + "".join(map("".join, zip(between, items[1:]))) + tail

    result = stilo.reformat(text(lambda: ""), language, {"width": width})
    odd = text(lambda: chance.choice([" ", "\t", "   ", ""]))
    assert stilo.reformat(odd, language, {"width": width}).text == result.text
    assert not stilo.reformat(result.text, language, {"width": width}).changed


@pytest.mark.parametrize("language", LISTS)
@settings(max_examples=40, deadline=None)
@given(data=st.data())
def test_without_rows_any_rows_give_the_same_result(language: str, data) -> None:
    items = data.draw(st.lists(st.sampled_from(LISTS[language][1]), min_size=2, max_size=14))
    starts = [data.draw(st.lists(st.booleans(), min_size=len(items), max_size=len(items)))] * 2
    style = {"width": 30, "*.authored": "no", "*.align": "no"}
    one, other = (
        stilo.reformat(text_of(language, items, rows, lambda: " "), language, style).text
        for rows in (*starts[:1], [False] * len(items))
    )
    assert one == other


CASES = [
    ("a matrix", "python", "m = [\n 1, 0,\n 0, 1,\n]\n", {}, "m = [\n    1, 0,\n    0, 1,\n]\n"),
    ("one row", "json", '[\n"center","centroid"]', {}, '[\n  "center", "centroid"\n]\n'),
    ("an item a line", "toml", 'a = [\n"b",\n"c"]\n', {}, 'a = [\n    "b",\n    "c",\n]\n'),
    (
        "comments at the ends",
        "json",
        "[ // a\n1, 2, // b\n3, 4]",
        {},
        "[ // a\n  1, 2, // b\n  3, 4\n]\n",
    ),
    ("not opened by its author", "json", "[1,\n2]", {}, "[1, 2]\n"),
    (
        "a row that does not fit",
        "json",
        "[\n100, 200, 300, 400, 500, 600,\n1, 2]",
        {"width": 24},
        "[\n  100, 200, 300, 400,\n  500, 600, 1, 2\n]\n",
    ),
    (
        "rows of texts that do not fit",
        "python",
        "t = [\n'berth', 'quay', 'deck',\n'lane', 'tide']\n",
        {"width": 24},
        "t = [\n    'berth', 'quay',\n    'deck', 'lane',\n    'tide'\n]\n",
    ),
    (
        "rows with lists that do not fit",
        "python",
        "t = [\n[1], [2], [3], [4], [5],\n[6], [7]]\n",
        {"width": 24},
        "t = [\n" + "".join(f"    [{n}],\n" for n in range(1, 8)) + "]\n",
    ),
    (
        "strings that are joined by an operator",
        "java",
        'String a = "b\\n" +\n"c\\n"\n+ d + "e" + "f";\n',
        {},
        'String a = "b\\n"\n        + "c\\n"\n        + d + "e" + "f";\n',
    ),
    (
        "strings that stand beside each other",
        "c",
        'char *a = "b"\n"c" "d";\nchar *e = "f" "g";\nchar *h = f("i"\n"j");\n',
        {},
        'char *a = "b"\n          "c"\n          "d";\nchar *e = "f" "g";\n'
        'char *h = f("i"\n            "j");\n',
    ),
    (
        "strings on two lines, if a setting has it",
        "javascript",
        'f("a" +\n"b", c +\nd)\n',
        {"strings.authored": "no"},
        'f("a" + "b", c + d)\n',
    ),
    (
        "parameters and arguments that have a line each",
        "python",
        "def dock(\na,\nb): moor(\n1,\n2)\n",
        {},
        "def dock(\n    a,\n    b,\n):\n    moor(\n        1,\n        2\n    )\n",
    ),
    (
        "arguments that do not, or of which there is one",
        "python",
        "dock(\na, b)\ndock(\na, b,\nc)\ndock(\na)\ndock(a,\nb)\n",
        {},
        "dock(a, b)\ndock(a, b, c)\ndock(a)\ndock(a, b)\n",
    ),
    (
        "arguments that have a line each, if a setting joins them",
        "java",
        "int x = dock(\na,\nb);\n",
        {"arguments.authored": "no"},
        "int x = dock(a, b);\n",
    ),
    (
        "no more than so many on a line, whoever set them",
        "python",
        "dock(\na, b)\ndock(a, b)\n",
        {"arguments.line-most": "1"},
        "dock(\n    a,\n    b\n)\n" * 2,
    ),
    (
        "only that it is opened",
        "json",
        "[\n1,\n2, 3]",
        {"items.authored": "yes"},
        "[\n  1, 2, 3\n]\n",
    ),
    (
        "a map",
        "python",
        "t = {\n'a': 1, 'b': 2,\n'c': 3}\n",
        {},
        "t = {\n    'a': 1, 'b': 2,\n    'c': 3\n}\n",
    ),
    (
        "an item a line where they may share one",
        "python",
        "m = [\n1,\n2]\n",
        {"items.inner-line": "yes"},
        "m = [\n    1,\n    2,\n]\n",
    ),
    (
        "an item of several lines has its own",
        "python",
        "t = [\n1, f(), {\n'a': 1,\n'b': 2},\n3]\n",
        {},
        "t = [\n    1,\n    f(),\n    {\n        'a': 1,\n        'b': 2,\n    },\n    3,\n]\n",
    ),
]


@pytest.mark.parametrize("what, language, text, style, wanted", CASES, ids=[c[0] for c in CASES])
def test_a_list(what: str, language: str, text: str, style: dict[str, object], wanted: str) -> None:
    result = stilo.reformat(text, language, style)
    assert result.text == wanted
    assert not stilo.reformat(result.text, language, style).changed


def test_why_a_row_ends_there() -> None:
    result = stilo.reformat("m = [\n 1, 0,\n 0, 1,\n]\n", "python")
    settings_ = [reason.setting for reason in result.decision(3, 2).reasons]
    assert "items.authored" in settings_


@pytest.mark.parametrize("style", stilo.style_names())
@pytest.mark.parametrize(
    "head", ["for (int i = 0; i < n; i++)", "for (Berth b : berths)", "while (x)"]
)
def test_a_head_of_a_loop_that_fits_stands_on_one_line(style: str, head: str) -> None:
    values = stilo.Styles(style=style).of("A.java").values
    text = stilo.reformat(f"class A {{ void f() {{ {head} {{ g(); }} }} }}", "java", values).text
    lines = [line.strip() for line in text.splitlines()]
    assert any(
        re.fullmatch(rf"({{ *)?{re.escape(head)}( {{)?", line.replace(" (", " (")) for line in lines
    ), text
