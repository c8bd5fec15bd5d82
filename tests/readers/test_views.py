"""Which directives a text has, which branches, and which of them each view leaves out."""

from __future__ import annotations

import pytest
from hypothesis import example, given
from hypothesis import strategies as st

import stilo
from stilo.edits import Edit, apply_edits, blanked, moved
from stilo.readers.views import MOST_VIEWS, branches, views

SAID = stilo.load_language("c").facts.preprocessed
assert SAID is not None
DIRECTIVES = SAID.directives


def directives(text: str) -> list[tuple[str, str]]:
    """What the directives of a text do, and their texts."""
    data = text.encode()
    return [(line.does, data[line.start:line.end].decode()) for line in DIRECTIVES.find(data)]


def seen(text: str) -> list[list[str]]:
    """The lines of code that each view has."""
    data = text.encode()
    lines = DIRECTIVES.find(data)
    found = []
    for left_out in views(branches(data, lines, DIRECTIVES)):
        rest = blanked(data, left_out).decode().split("\n")
        found.append([line for line in rest if line.strip() and line[0] != "#"])
    return found


def test_a_directive_is_a_line_that_begins_with_its_sign() -> None:
    assert directives("a # b\n  # if X\n#include <x>\n#endif // c\n") == [
        ("opens", "# if X"), ("other", "#include <x>"), ("ends", "#endif // c")
    ]


@pytest.mark.parametrize("text", ['/*\n#if X\n*/\n', '"\\\n#if X"\n', "// a \\\n#if X\n"])
def test_within_comments_and_texts_there_is_none(text: str) -> None:
    assert directives(text) == []


@pytest.mark.parametrize(
    "text",
    [
        "#define A \\\n  b",
        "#define A \\ \t\n  b",
        "#define A /* b\nc */ d",
        '#define A "/*" b',
        "#error don't",
        "#",
    ],
)
def test_a_directive_goes_on_after_a_backslash_and_in_a_comment(text: str) -> None:
    assert directives(text + "\nint a;\n") == [("other", text)]


@pytest.mark.parametrize("text", ["#define A \\", "#define A \\ ", "#define A \\ b\\ "])
def test_a_backslash_that_no_line_end_follows_joins_nothing(text: str) -> None:
    assert stilo.reformat(text, "c").text.split() == text.split()


def test_the_first_view_has_the_first_branches() -> None:
    assert seen("a\n#if X\nb\n#elif Y\nc\n#else\nd\n#endif\ne\n") == [
        ["a", "b", "e"], ["a", "c", "e"], ["a", "d", "e"]
    ]


def test_a_branch_in_a_branch_comes_into_view_with_it() -> None:
    text = "#if X\na\n#if Y\nb\n#else\nc\n#endif\n#else\nd\n#if Z\ne\n#endif\n#endif\n"
    assert seen(text) == [["a", "b"], ["a", "c"], ["d", "e"]]


def test_views_share_what_they_can() -> None:
    text = "#if X\na\n#else\nb\n#endif\n#if Y\nc\n#else\nd\n#endif\n"
    assert seen(text) == [["a", "c"], ["b", "d"]]


def test_a_branch_that_is_never_read_is_in_no_view() -> None:
    assert seen("#if 0\na\n#else\nb\n#endif\n#if 0\nc\n#endif\n") == [["b"]]
    assert seen("#if 01\na\n#endif\n") == [["a"]]


def test_what_is_not_closed_parts_nothing() -> None:
    assert seen("#if X\na\n#else\nb\n") == [["a", "b"]]
    assert seen("a\n#endif\nb\n#else\nc\n") == [["a", "b", "c"]]
    assert seen("#if X\n#if Y\na\n#else\nb\n#endif\n") == [["a"], ["b"]]


def test_conditionals_that_ask_the_same_are_answered_alike() -> None:
    assert seen("#if X\na\n#else\nb\n#endif\n#if X // again\nc\n#endif\n") == [["a", "c"], ["b"]]
    assert seen("#ifdef X\na\n#else\nb\n#endif\n#ifndef X\nc\n#else\nd\n#endif\n") == [
        ["a", "c"], ["b", "c"], ["a", "d"]
    ]
    assert seen("#if X\na\n#endif\n#if X\nb\n#else\nc\n#endif\n") == [["a", "b"], ["c"]]


def test_a_branch_that_can_be_had_otherwise_only_is_in_a_view_all_the_same() -> None:
    text = "#if X\n#if X\na\n#else\nb\n#endif\n#endif\n"
    assert seen(text) == [["a"], ["b"]]


def test_there_are_not_more_views_than_some() -> None:
    text = "#if X\na\n" + "".join(f"#elif Y\nb{n}\n" for n in range(50)) + "#endif\n"
    assert len(seen(text)) == MOST_VIEWS


DECKS = """/* # no */ int a;
#if CARS
  #define LANES 3 \\
    + 1
int b; // #endif
#else
char c[] = "
#if X";
#endif
int d;
"""
PIECES = ["", " ", "\n", "x", "#", "\n#if A\n", "/*", "*/", "//", '"', "\\\n", "\\"]


@given(st.integers(0, len(DECKS)), st.sampled_from([0, 1, 4]), st.sampled_from(PIECES))
@example(start=72, size=0, text="#")  # the directive stands where it stood, and does something else
def test_after_an_edit_the_directives_are_found_as_in_the_whole(
    start: int, size: int, text: str
) -> None:
    directives, data = stilo.load_language("c").reader.directives, DECKS.encode()
    edit = Edit(start, min(len(data), start + size), text.encode())
    lines, new = directives.find(data), apply_edits(data, [edit])
    if any(line.start < edit.end and edit.start < line.end for line in lines):
        return  # is not asked
    stay = [
        line._replace(start=moved(line.start, [edit]), end=moved(line.end, [edit]))
        for line in lines
    ]
    anew = directives.find(new)
    assert directives.edited(lines, new, edit) == (anew if anew == stay else None)
