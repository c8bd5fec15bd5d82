"""Parts of large texts, what changed in a text that was in style, and texts with syntax errors."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import replace
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

import stilo
from stilo.edits import apply_edits, difference
from stilo.part import edits_since, part_edits, sound_edits
from stilo.part import layout as part_layout
from stilo.part.excerpt import Excerpt, excerpt
from stilo.readers import Body
from stilo.request import Document, Request
from stilo.result import Unread
from stilo.source import Position, Source
from stilo.style.resolve import FileStyle

METHOD = """    /** Board {n}. */
    int board{n}(int lane) {{ // at the ramp
        int first  = lane;   // one
        int second = lane + 1; // two
        if (lane > {n}) {{ return call(lane,
            first); }}

        switch (lane) {{
            case 1: return second;
            default: break;
        }}
        return {n};
    }}
"""
JAVA = (
    "package skerry;\n\nimport java.util.List;\nimport java.util.Map;\n\n/** Decks. */\nclass Deck {\n"
    + "    static class Lane { int x; };\n\n"
    + "\n".join(METHOD.format(n=n) for n in range(8))
    + "}\n"
)
FUNCTION = '''def board{n}(lane, tide):
    """Board {n}."""
    first  = lane   # one
    second = [ lane,tide ]  # two
    if lane > {n}:
        return call(lane,
                    first)
    @property
    def ramp(self): return  first

    for berth in second:
        print( berth )
    return {n}
'''
PYTHON = (
    '"""Decks."""\n\nimport os\nimport sys\n\n' + "\n".join(FUNCTION.format(n=n) for n in range(8))
)
TABLE = """[[lane]]
number =  {n}
deck = "car"   # one
berths = [ 1,2,
  {n} ]
[lane.tide]
low =   0.4

"""
TOML = 'port = "north"\n\n' + "".join(TABLE.format(n=n) for n in range(8))
GAUGE = """/* Gauge {n}. */
SKERRY_API void gauge{n}(int lane)
{{
    int first  = lane;   /* one */
#ifdef SLOW
    int second = lane + 1; /* two */
#else
    int second  = {n};
#endif

    if (lane > {n}) {{ return call(lane,
        first); }}
    FOR_EACH(berth, lane) {{
        use( berth );
    }}

    return  {n};
}}
"""
C = (
    "#ifndef GAUGE_H\n#define GAUGE_H\n\n#include <stdio.h>\n\n"
    + "\n".join(GAUGE.format(n=n) for n in range(8))
    + "\n#endif\n"
)
WRAPPED = """  /** Board {n}. */
  function board{n}(lane) {{
    const first  = lane;   // one
    const second = [ lane,{n} ]; // two
    if (lane > {n}) {{ return call(lane,
      first); }}

    second.forEach((berth) => {{
      use( berth );
      leave( berth );
    }});
    return  {n};
  }}
"""
JAVASCRIPT = (
    "(function (root, make) {\n  root.decks = make();\n})(this, function () {\n  'use strict';\n\n"
    + "\n".join(WRAPPED.format(n=n) for n in range(8))
    + "});\n"
)
TEXTS = {"javascript": JAVASCRIPT, "java": JAVA, "python": PYTHON, "toml": TOML, "c": C}


@pytest.fixture(autouse=True)
def small(monkeypatch: pytest.MonkeyPatch) -> None:
    """What counts as large."""
    monkeypatch.setattr(part_layout, "MOST", 150)


def style(language: str, **values: str) -> FileStyle:
    known = stilo.load_language(language)
    return FileStyle(known, known.values(values), {}, "", f"a.{language}")


def lines(text: str) -> int:
    return text.count("\n")


@pytest.mark.parametrize("language", TEXTS)
@pytest.mark.parametrize("end", ["\n", "\r\n"])
def test_a_part_by_its_excerpt_is_the_part_of_the_whole(language: str, end: str) -> None:
    text, chosen = TEXTS[language].replace("\n", end), style(language)
    source = Source.from_text(text)
    by_excerpt = 0
    # What the text repeats has an odd number of lines: each is met alone, and with two after it.
    parts = [(n, min(n + n % 2 * 2, lines(text))) for n in range(1, lines(text) + 1)]
    if end == "\r\n":
        parts = parts[::7]
    elif language == "c":  # many of its parts hold a conditional, and take the whole job
        parts = parts[::2]
    for part in parts:
        whole = stilo.reformat_styled(text, chosen, lines=part).edits
        assert tuple(part_edits(source, chosen, part)) == whole
        parsed = chosen.language.read(source.data)
        found = part_layout._by_excerpt(source, chosen, part, parsed, False)
        by_excerpt += found is not None
    # What holds a conditional is not, nor what reaches out of a function within an expression.
    assert by_excerpt > len(parts) / {"c": 4, "javascript": 3}.get(language, 2)


def _kept(text: str, part: str, language: str = "java", most: int = 0) -> str | None:
    known = stilo.load_language(language)
    data, start = text.encode(), text.index(part)
    stretch = (start, start + len(part))
    bodies = known.read(data).bodies(*stretch, known.body_kinds)
    found = excerpt(data, bodies, stretch, known.comments, frozenset(), lambda item: None, most)
    return None if found is None else found.text.decode()


def test_what_has_a_say_is_kept() -> None:
    fields = [f"    int a{n};\n" for n in range(6)]
    parted = "class A {\n" + "\n".join(fields) + "}\n"
    near = "\n".join([fields[0], *fields[2:5]])
    assert (
        _kept(parted, "int a3;")
        == parted.replace("    int a1;\n\n", "\n").replace("\n    int a5;\n", "\n")
    )
    run = "class A {\n" + "".join(fields) + "}\n"
    assert _kept(run, "int a3;") == run  # columns go through neighbouring lines
    assert _kept(parted, "int a3;", most=1_000) == parted
    assert near


def test_what_shares_a_line_is_kept_with_it() -> None:
    text = "class A {\n    int a;\n\n    static class B {\n        int b;\n    }; int c;\n\n    int d;\n\n    int e;\n\n    int f; int g;\n}\n"
    rest = "    int f; int g;\n"
    assert _kept(text, "int d;") == text.replace(rest, "")
    assert _kept(text, "int a;") == text.replace(f"    int d;\n\n    int e;\n\n{rest}", "")


def test_what_cannot_be_read_is_left_out() -> None:
    text = "a = 1\n\ny = = 2\n\nb = 1\n\nc = 2\n"
    assert _kept(text, "b = 1", "python") == text.replace("y = = 2\n", "")
    assert _kept(text, "y = = 2", "python") is None
    assert _kept("a = 1\ny = = 2; b = 1\n", "b = 1", "python") is None


def test_the_lines_of_a_conditional_stay_or_go_together() -> None:
    around = "#if A\nint b;\n\nint c;\n\nint d;\n#endif\nint e;\n\n"
    apart = "#if B\nint f;\n#else\nint g;\n#endif\nint h;\n\n"
    text = (
        "int a;\n\nint z;\n\nint y;\n\n" + around + apart + "int i;\n\nint j;\n\nint k;\n\nint l;\n"
    )
    known = stilo.load_language("c")
    parsed, start = known.read(text.encode()), text.index("int j;")
    part = (start, start + len("int j;"))
    bodies = parsed.bodies(*part, known.body_kinds)
    some = excerpt(
        text.encode(), bodies, part, known.comments, frozenset(), lambda i: None, 0, parsed.together
    )
    assert some is not None
    assert some.text.decode() == "int a;\n\nint z;\n\n\nint i;\n\nint j;\n\nint k;\n\nint l;\n"
    start = text.index("int d;")
    part = (start, start + len("int d;"))
    some = excerpt(
        text.encode(), bodies, part, known.comments, frozenset(), lambda i: None, 0, parsed.together
    )
    assert some is not None
    assert [some.text.decode().count(sign) for sign in ("#if ", "#else\n", "#endif")] == [2, 1, 2]


def test_a_part_that_holds_a_conditional_is_taken_from_the_whole() -> None:
    lane = "enum lane{n} {{\n    CAR{n}  = 1,\n#ifdef COACH\n    LONG{n} = 2,\n#else\n    BUS{n} = 2,\n#endif\n}};\n"
    field = "int berth{n} =  {n};\n"
    source = Source.from_text(
        "\n".join(lane.format(n=n) + "\n" + field.format(n=n) for n in range(9))
    )
    chosen = style("c")
    parsed = chosen.language.read(source.data)
    found = {}
    for text in ("CAR4", "BUS4", "berth4"):
        line = source.data.count(b"\n", 0, source.data.index(text.encode())) + 1
        found[text] = part_layout._by_excerpt(source, chosen, (line, line), parsed, False)
        whole = stilo.reformat_styled(source.raw, chosen, lines=(line, line)).edits
        assert tuple(part_edits(source, chosen, (line, line), parsed)) == whole
    assert found["CAR4"] is None and found["BUS4"] is None and found["berth4"] is not None


def test_edits_that_reach_over_a_hole_are_none() -> None:
    some = Excerpt(b"abcdef", [(0, 2), (4, 6)])
    assert some.text == b"abef" and some.holes == [2]
    edit = part_layout.Edit
    assert (
        some.outward([edit(0, 2, b"x"), edit(2, 3, b"y")]) == [edit(0, 2, b"x"), edit(4, 5, b"y")]
    )
    assert some.outward([edit(1, 3, b"x")]) is None
    with pytest.raises(ValueError):
        some.place(3)


def test_no_body_is_known_in_what_was_read_with_spaces_put_in() -> None:
    known = stilo.load_language("python")
    parsed = known.read(b"def f():\n    x = (a and\n  b)\n    y = 1\n")
    assert not parsed.has_error and parsed.bodies(0, 1, known.body_kinds) == []


@given(
    st.sampled_from(sorted(TEXTS)),
    st.integers(0, 10_000),
    st.sampled_from([" ", "\n", "  ", "delete", "double", "longer"]),
)
@settings(max_examples=150, deadline=None)
def test_what_changed_since_is_all_there_is_to_lay_out(language: str, at: int, how: str) -> None:
    chosen = style(language)
    settled = stilo.reformat_styled(TEXTS[language], chosen).data
    rows = settled.split(b"\n")
    number = at % len(rows)
    if how == "delete":
        del rows[number]
    elif how == "double":
        rows.insert(number, rows[number])
    elif how == "longer":
        rows[number] = re.sub(rb"\b([a-z]+)\b(?=[,);])", rb"\1\1\1\1\1\1\1\1", rows[number])
    else:
        column = at % (len(rows[number]) + 1)
        rows[number] = rows[number][:column] + how.encode() + rows[number][column:]
    text = Source.from_bytes(b"\n".join(rows))
    try:
        whole = stilo.reformat_styled(text.raw, chosen).data
    except stilo.SyntaxFault:
        return
    edits = edits_since(text, Source.from_bytes(settled), chosen)
    assert edits is None or apply_edits(text.raw, edits) == whole


def test_no_change_and_great_changes() -> None:
    chosen = style("python")
    settled = Source.from_bytes(stilo.reformat_styled(PYTHON, chosen).data)
    assert edits_since(settled, settled, chosen) == ()
    assert edits_since(Source.from_text("x = 1\n" * 300), settled, chosen) is None
    assert edits_since(Source.from_bytes(settled.raw[:-1]), settled, chosen) is None
    imports = settled.raw.replace(b"import os\n", b"import re\nimport os\n")
    ordering = style("python", **{"import.order": "groups"})
    assert edits_since(Source.from_bytes(imports), settled, ordering) is None
    unused = style("python", **{"import.unused": "remove"})
    before, behind = settled.raw.rsplit(b"first", 1)  # far from the imports
    other = Source.from_bytes(before + b"second" + behind)
    assert edits_since(other, settled, chosen) is not None
    assert edits_since(other, settled, unused) is None


@given(
    st.binary(max_size=12), st.binary(max_size=12), st.binary(max_size=12), st.binary(max_size=12)
)
def test_the_difference_of_two_texts_leads_from_one_to_the_other(
    start: bytes, one: bytes, other: bytes, end: bytes
) -> None:
    before, after = start + one + end, start + other + end
    edit = difference(before, after)
    assert apply_edits(before, [edit]) == after
    assert len(edit.text) <= len(other) and edit.end - edit.start <= len(one)


def sound(language: str, text: str, within: Sequence[tuple[int, int]] | None = None) -> str:
    source = Source.from_text(text)
    return apply_edits(source.raw, sound_edits(source, style(language), within)).decode()


@pytest.mark.parametrize(
    "language, text, wanted",
    [
        ("python", "x=1\ny = = 2\nz=3\n", "x = 1\ny = = 2\nz = 3\n"),
        ("python", "def f( a ):\n    x = g(1,\n    z=3\n", "def f(a):\n    x = g(1,\n    z = 3\n"),
        ("python", "x=1\n  y=2\nz=3\n", "x = 1\n  y=2\nz = 3\n"),
        (
            "java",
            "class A {\n    int  a;\n    int = 3;\n    int  b;\n}\n",
            "class A {\n    int a;\n    int = 3;\n    int b;\n}\n",
        ),
        (
            "java",
            "class A {\r\n    int  a;\r\n    int = 3;\r\n}\r\n",
            "class A {\r\n    int a;\r\n    int = 3;\r\n}\r\n",
        ),
        ("toml", "a=1\nb = = 2\nc=3\n", "a = 1\nb = = 2\nc = 3\n"),
    ],
)
def test_what_can_be_read_is_laid_out(language: str, text: str, wanted: str) -> None:
    assert sound(language, text) == wanted
    assert sound(language, wanted) == wanted


@pytest.mark.parametrize(
    "head", ["Berth(Deck d;, int b) {", "Berth(Deck, d) {", "void f)(int b) {"]
)
def test_a_broken_head_takes_its_body_with_it(head: str) -> None:
    """Not its line alone, whose brace would be missing, and not the class, in which all else can be read."""
    text = "class A {\n    int  a;\n\n    " + head + "\n        g( );\n    }\n\n    int  b;\n}\n"
    assert sound("java", text) == text.replace("int  ", "int ")
    twice = text + text
    assert sound("java", twice) == twice.replace("}\nclass", "}\n\nclass").replace("int  ", "int ")


def test_a_broken_text_is_read_only_so_often(monkeypatch: pytest.MonkeyPatch) -> None:
    text = "x=1\ny = = 2\nz=3\nv = = 4\n"
    assert sound("python", text) == "x = 1\ny = = 2\nz = 3\nv = = 4\n"
    monkeypatch.setattr("stilo.part.sound.MOST_READINGS", 1)
    with pytest.raises(stilo.SyntaxFault, match="text:2:"):
        sound("python", text)


def test_of_a_broken_text_only_the_lines_asked_for() -> None:
    assert sound("python", "x=1\ny = = 2\nz=3\nw=4\n", [(3, 3)]) == "x=1\ny = = 2\nz = 3\nw=4\n"


@pytest.mark.parametrize(
    "language, text", [("json", '{"a":: 1}'), ("java", "x" * 3), ("python", "=")]
)
def test_what_cannot_be_read_at_all_is_refused(language: str, text: str) -> None:
    try:
        assert sound(language, text) == text
    except stilo.SyntaxFault as fault:
        assert str(fault).startswith("text:1:")


@given(
    st.sampled_from(sorted(TEXTS)),
    st.integers(0, 10_000),
    st.sampled_from(["(", ")", "{", "= =", "'", "\n  "])
)
@settings(max_examples=80, deadline=None)
def test_no_token_of_a_broken_text_is_lost(language: str, at: int, sign: str) -> None:
    text = TEXTS[language]
    at %= len(text)
    broken = text[:at] + sign + text[at:]
    try:
        result = sound(language, broken)
    except stilo.SyntaxFault:
        return
    spare = re.compile(r"[\s,()]")
    assert spare.sub("", result) == spare.sub("", broken)


def test_bodies_are_told_from_the_root_inward() -> None:
    known = stilo.load_language("java")
    text = b"class A {\n    void f() {\n        g();\n    }\n}\n"
    at = text.index(b"g()")
    found: Sequence[Body] = known.read(text).bodies(at, at + 3, known.body_kinds)
    assert [known.kinds.names[body.kind] for body in found] == ["program", "class_body", "block"]
    assert [text[i.start:i.end] for i in found[2].items] == [b"{", b"g();", b"}"]


def test_of_a_long_statement_at_the_end_of_a_text_its_begin_and_end_are_enough(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    found: list[str] = []

    def noted(*asked: Any) -> Excerpt | None:
        some = excerpt(*asked)
        found.append("" if some is None else some.text.decode())
        return some

    monkeypatch.setattr(part_layout, "excerpt", noted)
    rows = [f"    lane{n} = {n}\n" for n in range(40)]
    text = "tide = 1\n\nberth  = 2\n\nramp = 3\n\ndeck = 4\n\nclass Last:\n" + "".join(rows)
    assert len(part_edits(Source.from_text(text), style("python"), (3, 3))) == 1
    assert found == [text.replace("".join(rows[2:-1]), "").replace("deck = 4\n", "")]


def test_a_comment_is_no_statement_beside_a_part() -> None:
    rows = ["a = 1", "b = 2", "# of c", "c = 3", "# of d", "d = 4", "e = 5", "f = 6"]
    text = "\n\n".join(rows) + "\n"
    assert _kept(text, "c = 3", "python") == text.replace("e = 5\n", "")
    assert _kept(text, "d = 4", "python") == text.replace("# of c\n", "")


def test_a_statement_that_reaches_over_what_is_left_out_is_laid_out_whole() -> None:
    fields = "\n".join(f"            int a{n}  = {n};\n" for n in range(12))
    text = (
        "class A {\n    void f() {\n        call(new B() {\n"
        + fields
        + "        }, first,\n          second + third(fourth + fifth, sixth + seventh) + eighth + ninth);\n"
        + "    }\n}\n"
    )
    chosen = style("java", **{"body.blank-most": "5"})
    # The gaps at the holes are in style, so that nothing but the extent of the statement tells.
    text = stilo.reformat_styled(text, chosen).text.replace(" = ", "=")
    line = text[:text.index("a3")].count("\n") + 1
    assert len(stilo.reformat_styled(text, chosen, lines=(line, line)).edits) == 2  # of this one
    text = text.replace("}", " }", 1)  # where the body stands follows from what is around it
    whole = stilo.reformat_styled(text, chosen, lines=(line, line)).edits
    assert len(whole) == 25  # of all fields
    assert tuple(part_edits(Source.from_text(text), chosen, (line, line))) == whole


def test_a_part_that_would_stand_elsewhere_is_found_by_the_whole(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    chosen, source = style("java"), Source.from_text(JAVA)
    parsed = chosen.language.read(source.data)
    line = JAVA[:JAVA.index("if (lane > 4)")].count("\n") + 1
    assert part_layout._by_excerpt(source, chosen, (line, line), parsed, False) is not None
    monkeypatch.setattr(part_layout, "_shape", lambda bodies: object())
    assert part_layout._by_excerpt(source, chosen, (line, line), parsed, False) is None
    assert part_edits(source, chosen, (line, line))


LANES = "\n".join(f"int lane{n};" for n in range(2000))
BESIDE_A_MACRO = f"SKERRY_API void f(int a)\n{{\n}}\n\nint a  =  1;\n\n{LANES}\n"


def test_a_part_of_which_more_stays_than_could_not_be_read_is_found_by_the_whole(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    chosen, source = style("c"), Source.from_text(BESIDE_A_MACRO)
    parsed = chosen.language.read(source.data)
    assert part_layout._by_excerpt(source, chosen, (5, 5), parsed, False) is not None
    lay_out = part_layout.reformat_document

    def leaves_more(document: Document, request: Request) -> object:
        result = lay_out(document, request)
        return replace(result, unread=(Unread(Position(1, 1), 1, "would be read otherwise"),))

    monkeypatch.setattr(part_layout, "reformat_document", leaves_more)
    assert part_layout._by_excerpt(source, chosen, (5, 5), parsed, False) is None


def test_a_part_beside_what_is_read_otherwise_is_not_read_by_itself(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    chosen, source = style("c"), Source.from_text(BESIDE_A_MACRO)
    parsed = chosen.language.read(source.data)
    monkeypatch.setattr(chosen.language, "read", lambda data: pytest.fail("it is read anew"))
    found = part_layout._by_excerpt(source, chosen, (5, 5), parsed, False)
    assert (
        found is not None
        and apply_edits(source.raw, found.edits)
            == (BESIDE_A_MACRO.replace("a  =  1", "a = 1").encode())
    )


def test_margins_are_the_styles_where_the_rest_is_in_style() -> None:
    members = "\n".join(f"    int f{n}();\n" for n in range(9))
    settled = f"/* Decks. */\n\npackage deck;\n\n/** One. */\ninterface Deck {{\n{members}}}\n"
    text = settled.replace("package", "  package").replace("f1()", "f1( )")
    edits = edits_since(Source.from_text(text), Source.from_text(settled), style("java"))
    assert edits is not None and apply_edits(text.encode(), edits) == settled.encode()
