"""What is remembered, boundaries and guards: small faults that whole results would hardly show."""

from __future__ import annotations

from dataclasses import replace

import pytest

import stilo
from stilo.edits import Edit, moved, moved_back
from stilo.layout.edits import EditKind, TokenEdit
from stilo.verify.compare import compare


def test_spaces_that_keep_tokens_apart_are_remembered_by_their_whole_edge() -> None:
    # `1.b` within a name does not tell of `1 .b` after a number; both stand between the same characters.
    language = stilo.define_language("@language python {}")  # one that remembers nothing yet
    text = "deck1.berth\n1 .berth\ndeck1.berth\n"
    assert stilo.reformat(text, language).text == text


@pytest.mark.parametrize("width, is_aligned", [(37, True), (36, False)])
def test_columns_may_reach_the_width_and_no_further(width: int, is_aligned: bool) -> None:
    text = '{"lane": "12345678901234567", "car-deck-no": 2}'
    style = {"width": width, "map-value.column": "yes"}
    first = stilo.reformat(text, "json", style).text.splitlines()[1]
    assert len(first) == (37 if is_aligned else 30)


def test_what_is_left_has_no_edits() -> None:
    text = "# stilo: leave\nload('a', b,)\n"
    style = {"arguments.trailing": "never", "string-quotes": "double"}
    result = stilo.reformat(text, "python", style)
    assert result.text == text and not result._rendered.edits
    other = stilo.reformat(text.replace("# stilo: leave\n", ""), "python", style)
    assert {edit.kind for edit in other._rendered.edits} == {EditKind.SEPARATOR, EditKind.SPELLING}


def test_the_end_of_a_replacement_is_no_place_of_the_source() -> None:
    edits = [Edit(2, 6, b"ab"), Edit(8, 8, b"c")]
    assert (
        [moved_back(offset, edits) for offset in range(8)]
        == [0, 1, None, None, None, 7, None, None]
    )
    assert moved_back(8, edits) == 9
    assert [moved(offset, edits) for offset in (1, 2, 3, 6, 8)] == [1, 2, 2, 4, 6]
    assert moved(3, edits, to_end=True) == 4 and moved(8, edits, to_end=True) == 7


def test_tabs_within_comments_are_as_wide_as_the_style_says() -> None:
    text = "class A {\n/* berth\n\t\tlane\n\tdeck */\nint a;\n}\n"
    four, eight = (
        stilo.reformat(text, "java", {"tab-width": width}).text.splitlines()[2:4]
        for width in (4, 8)
    )
    assert four == ["           lane", "       deck */"]
    assert eight == ["               lane", "       deck */"]


@pytest.mark.parametrize("broken", [b"/* tide berth */", b"/* tide\n       berth\n    */"])
def test_the_check_sees_lines_of_comments(broken: bytes) -> None:
    result = stilo.reformat("class A {\n    /* tide\n       berth */\n    int a;\n}\n", "java")
    tokens = list(result._rendered.tokens)
    (comment,) = result._plan.comments
    tokens[comment] = broken
    rendered = replace(result._rendered, tokens=tokens)
    text = rendered.text()
    with pytest.raises(stilo.UnsafeResult):
        compare(result.language, result.source, result._plan, rendered, text, text)


@pytest.mark.parametrize(
    "edit",
    [
        TokenEdit(2, EditKind.SEPARATOR, b"1", b"2", "width"),
        TokenEdit(2, EditKind.COMMENT, b"1", b"", "width"),
    ],
)
def test_the_check_sees_edits_that_do_not_say_what_is_there(edit: TokenEdit) -> None:
    result = stilo.reformat("x = 1\n", "python")
    rendered = replace(result._rendered, edits=[edit])
    assert rendered.edited([b"x", b"=", b"1"])[2] == (b"2" if edit.kind.changes_code else b"1")
    broken = replace(rendered, tokens=[b"x", b"=", edit.after])
    text = broken.text()
    with pytest.raises(stilo.UnsafeResult):
        compare(result.language, result.source, result._plan, broken, text, text)


MATTERS = [
    ("x = 'a'\n", "string-quotes", True),
    ("x = a\n", "string-quotes", False),
    ("x = a  # b\n", "comment-distance", True),
    ("x = a\n", "comment-distance", False),
    ("f(a, b)\n", "arguments.wrap", True),
    ("f(a, b)\n", "arguments.close", False),
    ("x = a\n", "arguments.wrap", False),
]


@pytest.mark.parametrize("text, setting, matters", MATTERS, ids=[f"{m[1]}-{m[2]}" for m in MATTERS])
def test_settings_matter_where_they_decide_something(
    text: str, setting: str, matters: bool
) -> None:
    assert (setting in stilo.reformat(text, "python").settings_consulted) is matters


@pytest.mark.parametrize(
    ("language", "text", "wanted"),
    [
        ("javascript", "f(\n/* a\n b */ x, y)\n", "f(\n  /* a\n     b */\n  x,\n  y\n)\n"),
        (
            "java",
            "class A { void f() {\n/* a\n b */ x(); } }\n",
            "class A {\n    void f() {\n        /* a\n           b */\n        x();\n    }\n}\n",
        ),
    ],
)
def test_a_comment_of_several_lines_keeps_the_line_it_begins(
    language: str, text: str, wanted: str
) -> None:
    """Code after it on its last line does not draw it behind what stands before."""
    assert stilo.reformat(text, language).text == wanted


@pytest.mark.parametrize(
    ("language", "text", "wanted"),
    [
        ("javascript", "x = [a, b /* c */ /* d */\n]\n", "x = [a, b /* c */ /* d */]\n"),
        ("json", '{"a": 1 /* c */\n}', '{"a": 1 /* c */}\n'),
        (
            "java",
            "class A { int a = f(1, 2 /* c */\n); }\n",
            "class A {\n    int a = f(1, 2 /* c */);\n}\n",
        ),
    ],
)
def test_a_comment_before_a_closing_bracket_is_like_code(
    language: str, text: str, wanted: str
) -> None:
    """Its author's line end after it does not hold the list open."""
    assert stilo.reformat(text, language).text == wanted
