"""Texts and places as editors have them, without a server."""

from __future__ import annotations

import pytest

import stilo
from stilo.edits import Edit, apply_edits, difference
from stilo.serve import answers
from stilo.serve.documents import Change, Documents, joined
from stilo.serve.positions import Place, Places

TEXT = "a🚢é\r\nb\x0c\u2028c\rd\n".encode()


@pytest.mark.parametrize(
    "encoding, places",
    [
        ("utf-8", [(0, 0), (0, 1), (0, 5), (0, 7), (1, 0), (1, 5), (2, 0), (2, 1), (3, 0)]),
        ("utf-16", [(0, 0), (0, 1), (0, 3), (0, 4), (1, 0), (1, 3), (2, 0), (2, 1), (3, 0)]),
        ("utf-32", [(0, 0), (0, 1), (0, 2), (0, 3), (1, 0), (1, 3), (2, 0), (2, 1), (3, 0)]),
    ],
)
def test_places_and_back(encoding: str, places: list[tuple[int, int]]) -> None:
    found = Places(TEXT, encoding)
    offsets = [0, 1, 5, 7, 9, 14, 16, 17, 18]
    assert [found.place(offset) for offset in offsets] == [Place(*place) for place in places]
    assert [found.offset(Place(*place)) for place in places] == offsets


@pytest.mark.parametrize("encoding", ["utf-8", "utf-16", "utf-32"])
def test_places_that_are_not_there_are_the_nearest(encoding: str) -> None:
    found = Places(TEXT, encoding)
    assert found.offset(Place(0, 99)) == 7 and found.offset(Place(1, 99)) == 15
    assert found.offset(Place(99, 0)) == len(TEXT) and found.offset(Place(0, -1)) == 0
    assert found.place(8) == found.place(7)  # within a line end


def test_a_last_line_needs_no_end() -> None:
    found = Places(b"a\nbc", "utf-8")
    assert found.place(4) == Place(1, 2) and found.offset(Place(2, 0)) == 4
    assert Places(b"", "utf-8").place(0) == Place(0, 0)


def test_half_a_character_is_none() -> None:
    assert Places(TEXT, "utf-16").offset(Place(0, 2)) == 1
    assert Places(TEXT, "utf-8").offset(Place(0, 3)) == 1


def test_edits_that_touch_are_one() -> None:
    edits = [Edit(1, 1, b"("), Edit(1, 1, b" "), Edit(1, 2, b"a"), Edit(3, 3, b")")]
    assert joined(edits) == [Edit(1, 2, b"( a"), Edit(3, 3, b")")]


def test_each_change_is_one_of_what_the_one_before_left() -> None:
    documents = Documents("utf-16")
    documents.open("a", "a.py", "python", 1, "🚢 = 1\n")
    changes = [Change("ab", Place(0, 0), Place(0, 2)), Change("c", Place(0, 1), Place(0, 2))]
    found = documents.change("a", changes, 2)
    assert found is not None and (found.raw, found.version) == (b"ac = 1\n", 2)
    assert documents.change("a", [Change("x\n")], 3) is documents.texts["a"]
    assert documents.texts["a"].raw == b"x\n" and not documents.is_current(found)
    assert documents.change("b", [Change("")], 1) is None
    documents.close("a")
    assert not documents.texts


def test_a_changed_text_is_read_as_it_is_now() -> None:
    documents, language = Documents("utf-8"), stilo.load_language("python")
    first = documents.open("a", "a.py", "python", 1, "x = 1\n")
    assert documents.read(first, language) is documents.read(first, language)
    now = documents.change("a", [Change("(2)", Place(0, 4), Place(0, 5))], 2)
    assert now is not None
    again, anew = documents.read(now, language), language.read(now.raw)
    assert again.tree.texts == anew.tree.texts == [b"x", b"=", b"(", b"2", b")"]


def test_what_was_in_style_counts_for_that_style_alone() -> None:
    language = stilo.load_language("python")
    styles = [
        stilo.FileStyle(language, language.values({"opening-bracket.after": value}), {}, "", "a.py")
        for value in ("none", "space")
    ]
    text = Documents("utf-8").open("a", "a.py", "python", 1, "x = [1]\n")
    parsed = language.read(text.raw)
    edits, settled = answers.whole(text, styles[0], parsed)
    assert not edits and settled is not None
    assert not answers.whole(text, styles[0], parsed, settled)[0]
    assert answers.whole(text, styles[1], parsed, settled)[0]


def test_what_could_not_be_read_is_laid_out_once_it_can_be() -> None:
    """All of it, not only what changed."""
    language = stilo.load_language("typescript")
    style = stilo.FileStyle(language, language.values({}), {}, "", "a.ts")
    documents = Documents("utf-8")
    whole = documents.open("a", "a.ts", "typescript", 1, "quay();\n")
    _, in_style = answers.whole(whole, style, language.read(whole.raw))
    assert in_style is not None
    rows = "dock( );\ntype A = ([i]: [number; ]) =>\n  void;\n"
    broken = documents.open("b", "b.ts", "typescript", 1, "quay();\n" + rows)
    parsed = language.read(broken.raw)
    assert parsed.unread
    for known in (None, in_style):
        edits, settled = answers.whole(broken, style, parsed, known)
        left = apply_edits(broken.raw, edits)
        assert left == broken.raw.replace(b"dock( )", b"dock()")
        assert settled is not None and settled.source.raw == left
        mended = documents.open("b", "b.ts", "typescript", 2, left.decode().replace("r;", "r"))
        for again in (
            language.read(mended.raw),
            parsed.edited(mended.raw, [difference(broken.raw, mended.raw)]),
        ):
            edits, _ = answers.whole(mended, style, again, settled)
            assert (
                apply_edits(mended.raw, edits)
                == b"quay();\ndock();\ntype A = ([i]: [number]) => void;\n"
            )
