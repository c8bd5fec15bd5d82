"""A text in views after an edit, and a part of it: what is read as before, and what has to be read anew."""

from __future__ import annotations

from itertools import pairwise

import pytest

import stilo
from stilo.edits import Edit, apply_edits
from stilo.language import Language
from stilo.readers.conditional import ViewParsed

TEXT = """#define RAMP 1

int tide;
int lane;

SKERRY_API void dock(int lane)
{
    lane = 1;

    FOR_EACH(berth, lane) {
        lane++;
    }
}

int deck;
#if RAMP
int car;
#else
int bus;
int van;
int cab;
int bike;
int cart;
#endif
int berth;
int mast;
int keel;
#pragma once
"""


@pytest.fixture(scope="module")
def known() -> Language:
    return stilo.load_language("c")


def read(known: Language, text: str = TEXT) -> ViewParsed:
    found = known.read(text.encode())
    assert isinstance(found, ViewParsed) and not found.has_error
    return found


def after(parsed: ViewParsed, old: str, new: str) -> tuple[bytes, ViewParsed | None]:
    start = parsed.data.index(old.encode())
    edit = Edit(start, start + len(old), new.encode())
    data = apply_edits(parsed.data, [edit])
    return data, parsed.edited_alike(data, [edit])


@pytest.mark.parametrize(
    ("old", "new"),
    [
        ("lane = 1", "lane = tide + 1"),  # in a text with readings and views
        ("cab;", "cab,  coach;"),  # where the first view reads nothing
        ("int keel;\n", ""),
        ("int tide", "long int\n\ntide"),
        ("        lane++", "    lane++"),  # no more than spaces, beside a loop's head
    ],
)
def test_an_edit_apart_is_read_as_if_anew(known: Language, old: str, new: str) -> None:
    data, found = after(read(known), old, new)
    anew = read(known, data.decode())
    assert found is not None and found.data == data
    assert len(found.views) == len(anew.views) == 2
    for one, other in zip(found.views, anew.views):
        assert one.parsed.data == other.parsed.data and one.leaves == other.leaves
        assert list(one.dropped) == list(other.dropped) and one.renamed == other.renamed
    assert found.tree.shape == anew.tree.shape and found.tree.texts == anew.tree.texts
    assert found.lines == anew.lines
    assert found.same_as(anew.tree)


@pytest.mark.parametrize(
    ("old", "new"),
    [
        ("RAMP 1", "RAMP 2"),  # a directive
        ("int tide", "#if X\nint tide"),
        ("int tide", "/* int tide"),
        ("tide;\n", "tide;"),  # beside one that stays
        ("berth, lane) {", "berth, lane)  {"),  # on the line of a loop's head
        ("lane++", "lane --"),  # beside it
        ("        lane++", "    lane\n++"),
        ("dock", "duck"),  # on the line of a word that is read otherwise
        ("SKERRY_API ", ""),
        (")\n{", ")\n\n{"),  # beside it
        ("bus;\nint", "bus;\nint int"),  # cannot be read in the second view
        ("bus", "ferry"),  # beside where a branch begins
        ("keel;", "keel"),  # cannot be read
    ],
)
def test_other_edits_have_to_be_read_anew(known: Language, old: str, new: str) -> None:
    data, found = after(read(known), old, new)
    assert found is None or (old, new) == ("tide;\n", "tide;")
    assert read_any(known, data).tree.texts == read(known).edited(data, []).tree.texts


def read_any(known: Language, data: bytes) -> ViewParsed:
    found = known.read(data)
    assert isinstance(found, ViewParsed)
    return found


def test_a_word_that_a_style_names_is_read_anew(known: Language) -> None:
    wise = known.knowing(known.values({"known-words": "BERTHED item"}))
    parsed = read(wise)
    assert after(parsed, "int tide", "int x; int tide")[1] is not None
    assert after(parsed, "int tide", "BERTHED int tide")[1] is None
    assert after(parsed, "int tide", "BERTHED x; int tide")[1] is None  # though the grammar reads it
    assert after(read(known), "int tide", "BERTHED x; int tide")[1] is not None


def test_what_stands_in_one_view_alone_is_not_seen(known: Language) -> None:
    parsed = read(known)

    def seen(first: str, last: str) -> bool:
        return parsed.is_seen(TEXT.index(first), TEXT.index(last) + len(last))

    assert seen("#define", "int deck;\n")
    assert not seen("int deck;\n", "#if")
    assert seen("int car;", "int car;\n") and not seen("int van;", "int van;")
    assert not seen("#endif", "int berth") and seen("int berth;", "#pragma once")


def kept(text: str, *gone: str) -> list[tuple[int, int]]:
    cuts = sorted((text.index(hole), text.index(hole) + len(hole)) for hole in gone)
    edges = [0, *(place for cut in cuts for place in cut), len(text)]
    return [(a, b) for a, b in pairwise(edges) if edges.index(a) % 2 == 0]


def same(part: ViewParsed | None, anew: ViewParsed) -> bool:
    assert part is not None
    assert part.lines == anew.lines and len(part.views) == len(anew.views)
    return all(
        one.parsed.data == other.parsed.data
            and list(one.leaves) == list(other.leaves)
            and list(one.dropped) == list(other.dropped)
            and one.renamed == other.renamed
            and list(one.unread) == list(other.unread)
            and one.parsed.tree.shape == other.parsed.tree.shape
        for one, other in zip(part.views, anew.views)
    )


@pytest.mark.parametrize(
    "gone",
    [
        ("int tide;\n", "int mast;\n"),
        ("#define RAMP 1\n", "SKERRY_API ", "int lane;\n"),
        ("    FOR_EACH(berth, lane) {\n        lane++;\n    }\n", "int keel;\n#pragma once\n"),
        (TEXT[TEXT.index("#if"):TEXT.index("int berth")],),  # with it goes the second view
    ]
)
def test_a_part_is_read_as_in_the_whole(known: Language, gone: tuple[str, ...]) -> None:
    stretches = kept(TEXT, *gone)
    data = "".join(TEXT[a:b] for a, b in stretches)
    found = read(known).part(data.encode(), stretches)
    assert same(found, read(known, data))
    assert found is not None and found.tree.shape == read(known, data).tree.shape


@pytest.mark.parametrize(
    "gone",
    [
        "int keel;\n#pragma ",  # some of a directive
        "int lane;\n\nSKERRY_API void",
        "int cab;\nint bike",  # some of what the first view does not see
        "    FOR_EACH(berth, lane) {\n",  # its other bracket stays
    ]
)
def test_a_part_that_cannot_be_read_so(known: Language, gone: str) -> None:
    stretches = kept(TEXT, gone)
    data = "".join(TEXT[a:b] for a, b in stretches).encode()
    assert read(known).part(data, stretches) is None


def test_the_lines_of_a_conditional_belong_together(known: Language) -> None:
    text = "#if A\n#if B\nint a;\n#endif\n#else\nint b;\n#endif\n#if C\n"
    found = [[text[a:b] for a, b in group] for group in read(known, text).together]
    assert found == [["#if B", "#endif"], ["#if A", "#else", "#endif"]]
