"""Further views of a text: what has no say in the layout of the branches taken from them is left out."""

from __future__ import annotations

from unittest import mock

from hypothesis import given
from hypothesis import strategies as st

import stilo
from stilo.layout.views import thinned
from stilo.tree.flat import BLANKS

LANGUAGE = stilo.load_language("c")
STYLE = {
    "declared-name.column": "yes",
    "trailing-comment.column": "yes",
    "define.value-column": "yes",
}


def left(text: str) -> list[str]:
    """The lines of the second view of a text of which something stays; of the first all does."""
    parsed = LANGUAGE.read(text.encode())
    trees = [parsed.tree, *(view.tree for view in parsed.others)]
    kinds = LANGUAGE.branch_kind, LANGUAGE.line_kinds, LANGUAGE.body_kinds, LANGUAGE.comments
    first, second = thinned(trees, *kinds)
    assert first is trees[0]
    assert second.data.count(b"\n") == text.count("\n")
    assert b"".join(second.texts).translate(None, BLANKS) == second.solid
    return [line for line in second.data.decode().split("\n") if line.strip()]


BRANCH = "#ifdef TIDAL\nint tide;\n#else\nint lane;\n#endif\n"


def test_what_is_far_away_is_left_out() -> None:
    far = "".join(f"int berth_{number};\n\n" for number in range(4))
    kept = left(f"int first;\n\n{far}{BRANCH}\n{far}int last;\n")
    near = ["int berth_3;", *BRANCH.splitlines(), "int berth_0;"]
    assert kept == ["int first;", "int berth_0;", *near, "int last;"]  # two that it begins with


def test_all_stays_that_no_blank_line_parts_from_a_branch() -> None:
    far = "".join(f"int berth_{number};\n" for number in range(3))
    text = f"int first;\n\nint second;\n\nint gone;\n\nint near;\n\n{far}{BRANCH}{far}\nint near;\n\nint gone;\n\nint last;\n"
    assert left(text) == [line for line in text.splitlines() if line not in ("", "int gone;")]


def test_comments_count_to_what_stands_behind_them() -> None:
    text = f"int first;\n\nint second;\n\nint gone;\n\nint near;\n\n/* a */\n\n/* b */\n\n{BRANCH}\n/* c */\n\nint near;\n\nint gone;\n\nint last;\n"
    assert left(text) == [line for line in text.splitlines() if line not in ("", "int gone;")]


def test_bodies_around_a_branch_lose_what_is_far_away() -> None:
    far = "".join(f"    berth({number});\n\n" for number in range(4))
    kept = left(f"void moor(void)\n{{\n    first();\n\n{far}{BRANCH}\n{far}    last();\n}}\n")
    near = ["    berth(3);", *BRANCH.splitlines(), "    berth(0);"]
    assert kept == ["void moor(void)", "{", "    first();", *near, "}"]


def test_directives_stay() -> None:
    text = f"int first;\n\nint second;\n\nint gone;\n\n#define DECKS 3\nint near;\n\n{BRANCH}\nint last;\n"
    assert left(text) == [line for line in text.splitlines() if line not in ("", "int gone;")]


PIECES = st.sampled_from([
    "int  a; // deck\n",
    "unsigned long  berth = 3; // quay\n",
    "\n",
    "/* ropes */\n",
    "#define DECKS   3\n",
    "#define QUAY 14\n",
    "void moor( int ship ) { fasten( ship );\n\n tie(ship) ;  }\n",
    "struct berth { int  number; long  length; };\n",
])
BRANCHES = st.tuples(
    st.lists(PIECES, min_size=1, max_size=3), st.lists(PIECES, min_size=1, max_size=3)
)


@given(st.lists(PIECES | BRANCHES, max_size=14), st.booleans())
def test_the_result_is_that_of_whole_views(pieces, is_inside) -> None:
    said = [
        piece
            if isinstance(piece, str)
            else f"#if TIDAL\n{''.join(piece[0])}#else\n{''.join(piece[1])}#endif\n"
        for piece in pieces
    ]
    text = "".join(said)
    if is_inside:
        text = f"namespace skerry {{\n{text}}}\n"
    language = "cpp" if is_inside else "c"
    found = stilo.reformat(text, language, STYLE)
    with mock.patch("stilo.pipeline.thinned", lambda trees, *kinds: trees):
        wanted = stilo.reformat(text, language, STYLE)
    assert found.text == wanted.text and found.findings == wanted.findings


def test_what_a_comment_sets_far_away_holds() -> None:
    calls = "void moor(void) { fasten(ship, rope, quay); }\n\n"
    branch = f"#if TIDAL\n{calls}#else\n{calls}#endif\n"
    text = f"int first;\n\nint second;\n\n/* stilo: set begin width=24 */\n\nint far;\n\nint near;\n\n{branch}/* stilo: set end */\n"
    found = stilo.reformat(text, LANGUAGE).text
    assert found.count("fasten(ship, rope, quay);") == 0 and found.count("fasten(") == 2


def test_a_branch_may_be_nested_deeply() -> None:
    deep = f"int tide = {'(' * 3_000}1{')' * 3_000};\n"
    text = f"#if TIDAL\nint tide;\n#else\n{deep}#endif\n"
    assert left(text)[-2] == deep.strip()
