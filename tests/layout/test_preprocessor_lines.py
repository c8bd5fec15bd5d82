"""Columns within lines for a preprocessor: of what they define, and of backslashes."""

from __future__ import annotations

import pytest

import stilo
from stilo.layout.directives import same_directive

VALUES = "define.value-column"
JOINS = "define.join-column"


def laid(text: str, **style: str) -> str:
    """A text of C laid out, settled."""
    result = stilo.reformat(text, "c", style)
    assert stilo.reformat(result.text, "c", style).text == result.text
    return result.text


def test_all_stays_as_its_author_wrote_it() -> None:
    text = "#define A   1\n#define  LONG\t2 \\\n   3\n"
    assert laid(text) == text


def test_values_that_follow_each_other_stand_in_a_column() -> None:
    text = "#define A 1\n#define LONGER(a,  b)\t\"x  y\" /* z */\n#define  E\n\n#define BC   2\n#define D 3\n"
    assert laid(text, **{VALUES: "yes"}) == (
        "#define A             1\n#define LONGER(a,  b) \"x  y\" /* z */\n#define  E\n\n"
        "#define BC 2\n#define D  3\n"
    )


def test_or_one_space_after_the_name() -> None:
    text = "#define A\t\t1\n#define  B(x)   (x  +  1)\n#define C(x)(x)\n#define D \\\n  1\n"
    assert (
        laid(text, **{VALUES: "no"})
        == ("#define A 1\n#define B(x) (x  +  1)\n#define C(x)(x)\n#define D \\\n  1\n")
    )


@pytest.mark.parametrize("between", ["\n", "int a;\n", "#undef B\n"])
def test_what_stands_between_parts_them(between: str) -> None:
    text = f"#define A 1\n{between}#define LONG 2\n"
    assert laid(text, **{VALUES: "yes"}) == text


def test_none_is_set_where_one_would_pass_the_width() -> None:
    text = f"#define LONGER 1\n#define A {'b' * 12}\n"
    assert laid(text, **{VALUES: "yes", "width": "27"}) == text.replace("A ", "A      ")
    assert laid(text, **{VALUES: "yes", "width": "26"}) == text


def test_columns_start_at_the_first_of_several_lines_alone() -> None:
    text = "#define A x \\\n  y\n#define LONG z\n"
    assert laid(text, **{VALUES: "yes"}) == text


def test_backslashes_stand_in_a_column_or_one_space_away() -> None:
    text = "#define MOOR(b) do { \\\n    gate(b);\\\n    ramp(b);   \\\n  } while (0)\n"
    assert laid(text, **{JOINS: "yes"}) == (
        "#define MOOR(b) do { \\\n    gate(b);         \\\n    ramp(b);         \\\n  } while (0)\n"
    )
    assert (
        laid(text, **{JOINS: "no"})
        == ("#define MOOR(b) do { \\\n    gate(b); \\\n    ramp(b); \\\n  } while (0)\n")
    )


def test_a_backslash_within_a_word_stays() -> None:
    text = "#define A ab\\\ncd \\\n  e\n"
    assert laid(text, **{JOINS: "yes"}) == text
    assert laid(text, **{JOINS: "no"}) == text


def test_a_line_past_the_width_does_not_move_the_others() -> None:
    text = f"#define A \\\n  {'b' * 40} \\\n  cd \\\n  e\n"
    assert (
        laid(text, **{JOINS: "yes", "width": "30"})
        == (f"#define A \\\n  {'b' * 40} \\\n  cd      \\\n  e\n")
    )


@pytest.mark.parametrize(
    "before, after, same",
    [
        (b"#define A  1", b"#define A 1", True),
        (b"#define A (1)", b"#define A(1)", False),
        (b"#define A x\\\n y", b"#define A x \\\n y", True),
        (b"#define A x\\\ny", b"#define A x \\\ny", False),
        (b"#define A x \\\n y", b"#define A \\\n x y", False),
    ],
)
def test_what_counts_as_the_same(before: bytes, after: bytes, same: bool) -> None:
    assert same_directive(before, after, b"\\") is same


def test_a_place_is_told_with_its_setting() -> None:
    result = stilo.reformat("#define A   1\n", "c", {VALUES: "no"})
    assert [(f.code, f.reason.setting) for f in result.findings] == [("directive", VALUES)]


def test_the_further_lines_of_a_comment_after_code_stand_below_it() -> None:
    text = "struct tide {\n  int depth;  /* in metres: below\n   the sill */\n  int at; /* from\n  * midnight */\n};\n"
    assert laid(text, **{"trailing-comment.column": "no"}) == (
        "struct tide {\n    int depth; /* in metres: below\n                  the sill */\n"
        "    int at; /* from\n             * midnight */\n};\n"
    )


def test_they_stand_near_the_margin_where_they_have_no_room_there() -> None:
    text = f"struct tide {{\n    int depth; /* in\n       {'m' * 24} */\n}};\n"
    assert laid(text, width="45") == text.replace(" " * 7 + "m", " " * 18 + "m")
    assert laid(text, width="44") == text


def test_a_comment_of_several_lines_does_not_part_columns() -> None:
    text = "struct tide {\n    int   at; /* in\n               metres */\n    float depth;\n};\n"
    assert laid(text) == text.replace("               metres", "                 metres")
