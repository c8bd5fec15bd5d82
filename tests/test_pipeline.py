"""The Python interface: sources of every sort, ranges, edits, threads, safety."""

from __future__ import annotations

import gc
import re
import runpy
from concurrent.futures import ThreadPoolExecutor
from contextlib import suppress
from pathlib import Path

import pytest

import stilo
from stilo.verify.compare import compare

ROOT = Path(__file__).parent.parent
DEMO = ROOT / "src" / "stilo" / "languages" / "demo"


@pytest.mark.parametrize(
    "raw, expected",
    [
        (b"", b""),
        (b" \n\n", b""),
        (b"\xef\xbb\xbf", b"\xef\xbb\xbf"),
        (b"[1]", b"[1]\n"),
        (b"  [ 1 ]  \n\n\n", b"[1]\n"),
        (b"[1,\r\n2]\r\n", b"[1, 2]\r\n"),
        (b'\xef\xbb\xbf{\r\n"a":1}\r\n', b'\xef\xbb\xbf{\r\n  "a": 1\r\n}\r\n'),
        (b"[1,\r\n2]\n", b"[1, 2]\r\n"),
        ("[\"日本\",\t\"é\"]".encode(), '["日本", "é"]\n'.encode()),
    ],
)
def test_sources_of_every_sort(raw: bytes, expected: bytes) -> None:
    result = stilo.reformat(raw, "json")
    assert result.data == expected
    assert not stilo.reformat(expected, "json").changed
    assert result.changed == (raw != expected)


def test_line_ends_and_final_newline_are_settings() -> None:
    assert stilo.reformat("[1]", "json", {"line-ends": "crlf"}).data == b"[1]\r\n"
    assert stilo.reformat("[1]\r\n", "json", {"line-ends": "lf"}).data == b"[1]\n"
    assert stilo.reformat("[1]\n", "json", {"final-newline": "no"}).data == b"[1]"


def test_width_counts_display_columns() -> None:
    wide = '["日本語日本語日本語", "日本語日本語"]'
    assert "\n  " not in stilo.reformat(wide, "json", {"width": 38}).text
    assert "\n  " in stilo.reformat(wide, "json", {"width": 37}).text


def test_tabs_indent_by_tab_width() -> None:
    text = stilo.reformat("class A { int a; }", "java", {"indent-with": "tabs"}).text
    assert text == "class A {\n\tint a;\n}\n"


def test_depth_breaks_nothing() -> None:
    for depth in (50, 5000):
        text = "[" * depth + "]" * depth
        result = stilo.reformat(text, "json", {"indent": 0})
        assert "".join(result.text.split()) == text


def test_a_range_changes_only_the_statements_that_reach_into_it() -> None:
    text = "class A {\nint  a;\nint  b =\n 2;\nint  c;\n}\n"
    result = stilo.reformat(text, "java", {"*.column": "no"}, lines=(4, 4))
    assert result.text == "class A {\nint  a;\nint b = 2;\nint  c;\n}\n"
    assert len(result.findings) == 2
    with pytest.raises(stilo.OutOfRange):
        stilo.reformat(text, "java", lines=(7, 9))
    with pytest.raises(stilo.OutOfRange):
        stilo.reformat(text, "java", lines=(3, 2))


def test_findings_are_none_exactly_when_nothing_changes() -> None:
    for path in filter(Path.is_file, DEMO.iterdir()):
        result = stilo.reformat_file(path)
        assert result.changed and result.findings
        again = stilo.reformat_styled(result.data, stilo.Styles().of(path), name=path.name)
        assert not again.changed and not again.findings and not again.edits


def test_every_gap_of_the_demo_can_be_explained() -> None:
    result = stilo.reformat_file(DEMO / "Sailing.java")
    for number in range(1, result.source.line_count + 1):
        decision = result.decision(number)
        assert decision.outcome and decision.because
        if decision.before != "the start of the file" and not decision.after.startswith('"//'):
            assert decision.reasons


def test_a_place_where_a_sequence_fits_is_told_from_one_where_none_may_break() -> None:
    result = stilo.reformat("class A { int a = f( b,c ); }", "java")
    assert result.decision(1, 22).outcome == "no space, no line break"
    assert result.decision(1, 24).outcome == "1 space, no line break"
    assert result.decision(1, 15).outcome == "1 space"


def test_the_check_notices_a_lost_and_a_joined_token() -> None:
    result = stilo.reformat("class A { int a = - -1; }", "java")
    plan, rendered = result._plan, result._rendered
    language = result.language
    for before, after in [(b"int a", b"inta"), (b"- -1", b"--1"), (b"= ", b"= //"), (b";", b"")]:
        broken = rendered.text().replace(before, after)
        with pytest.raises(stilo.UnsafeResult):
            compare(language, result.source, plan, rendered, broken, broken)


@pytest.mark.parametrize(
    "before, after", [(b"12", b"1 2"), (b'"a b"', b'"a  b"'), (b"// x\n", b"// x "), (b"// x", b"")]
)
def test_the_check_by_a_pattern_notices_changed_tokens(before: bytes, after: bytes) -> None:
    result = stilo.reformat('{"a b": // x\n [12,null]}', "json")
    plan, rendered, tokens = result._plan, result._rendered, result.language.facts.tokens
    assert tokens is not None
    assert tokens.findall(result.source.data) == plan.tree.texts
    broken = rendered.text().replace(before, after)
    assert broken != rendered.text()
    with pytest.raises(stilo.UnsafeResult):
        compare(result.language, result.source, plan, rendered, broken, broken)


def test_a_pattern_that_misses_a_token_leaves_the_check_to_the_parser() -> None:
    sheet = stilo.registry.sheet_text("json").replace('"[-+.\\\\w]+" ', "")
    language = stilo.language.Language(
        [("base", stilo.registry.sheet_text("base")), ("json", sheet)]
    )
    assert language.facts.tokens is not None
    assert language.facts.tokens.findall(b"[1]") == [b"[", b"]"]
    assert stilo.reformat("[1,2]", language).text == "[1, 2]\n"


def test_columns_go_when_they_are_no_longer_asked_for() -> None:
    text = "class A { int a = 1;\nlong bb = 22;\nvoid f() { a = 1;\n bb = 2; } }"
    style = {"declared-name.column": "yes", "assignment-sign.column": "yes"}
    aligned = stilo.reformat(text, "java", style)
    assert "int  a = 1;" in aligned.text and "a  = 1;" in aligned.text
    assert aligned.decision(1, 15).outcome == "2 spaces"
    assert aligned.decision(1, 15).reasons[0].property == "column"
    plain = stilo.reformat(text, "java").text
    assert stilo.reformat(aligned.text, "java", {"*.column": "no"}).text == plain


def test_columns_never_pass_the_width() -> None:
    text = "class A { int a = 1;\nAVeryLongName<Of, A, Type> bb;\n}"
    for width in range(20, 60):
        result = stilo.reformat(text, "java", {"width": width, "declared-name.column": "yes"})
        plain = stilo.reformat(text, "java", {"width": width})
        longest = max(map(len, plain.text.split("\n")))
        assert max(map(len, result.text.split("\n"))) <= max(width, longest)


@pytest.mark.parametrize(
    "setting, text, because",
    [
        ("arguments.authored=yes", "f(\na)", "its author set the first item on a new line"),
        (
            "arguments.line-most=1",
            "f(a, b)",
            "the list holds more items than may stand on one line",
        ),
        ("arguments.wrap=stack-always", "f(a)", "each item always has a line of its own here"),
        ("width=20", "f(aaaaaaaaa, b)", "on one line it would be wider than 20 columns"),
        ("width=100", "f(// x\na)", "a comment in this list has a line of its own"),
    ],
)
def test_a_break_is_explained(setting: str, text: str, because: str) -> None:
    name, value = setting.split("=")
    source = "class A { int x = " + text + "; }"
    result = stilo.reformat(source, "java", {name: value})
    line = source.count("\n") + 1
    column = source.split("\n")[-1].index("a", 17 if line == 1 else 0) + 1
    assert result.decision(line, column).because == because


def test_threads_share_a_language() -> None:
    raw = (DEMO / "Sailing.java").read_bytes()
    expected = stilo.reformat(raw, "java").data
    fresh = stilo.language.Language([(n, stilo.registry.sheet_text(n)) for n in ("base", "java")])
    with ThreadPoolExecutor(8) as pool:
        results = list(pool.map(lambda _: stilo.reformat(raw, fresh).data, range(16)))
    assert set(results) == {expected}


def test_no_language_is_named_in_the_engine() -> None:
    known_names = [name for name in stilo.language_names() if len(name) > 1]  # `c` is in every word
    names = "|".join([*known_names, "python", "javascript", "typescript", "rust"])
    engine = (
        [
            path
            for folder in ("tree", "sheet", "layout", "style", "run")
            for path in (ROOT / "src" / "stilo" / folder).glob("*.py")
        ]
        + list((ROOT / "src" / "stilo").glob("*.py"))
    )
    for path in engine:
        if path.name == "__init__.py" and path.parent.name == "stilo":
            continue  # its example shows a call
        # Settings are kept in a format, and checked by a schema in another, that are languages, too;
        # and notebooks are documents in the latter.
        holds_a_format = path.parent.name == "style" or path.name in ("notebook.py", "cache.py")
        known = names.replace("json|", "").replace("|toml", "") if holds_a_format else names
        if path.parent.name == "sheet" or path.name == "reference.py":  # sheets are written in CSS syntax
            known = known.replace("css|", "")
        if path.name == "reference.py":  # which writes pages
            known = known.replace("markdown|", "")
        found = re.search(rf"\b({known})\b", path.read_text("utf-8"), re.IGNORECASE)
        assert found is None, (path, found)


def test_the_generated_pages_are_current() -> None:
    for name, page in runpy.run_path(str(ROOT / "docs" / "generate.py"))["PAGES"].items():
        written = (ROOT / "docs" / name).read_text("utf-8")
        assert written == page(), f"{name}: run python docs/generate.py"


def test_the_gallery_is_current() -> None:
    page = runpy.run_path(str(ROOT / "docs" / "gallery.py"))["page"]
    written = (ROOT / "docs" / "gallery.md").read_text("utf-8")
    assert written == page(), "run: python docs/gallery.py"


def test_the_gallery_shows_every_role_that_wraps() -> None:
    page = (ROOT / "docs" / "gallery.md").read_text("utf-8")
    language = stilo.load_language("java")
    for name in language.settings:
        role, _, aspect = name.partition(".")
        if aspect == "wrap" and role in language.used_roles:
            assert f"## {role}\n" in page, role


@pytest.mark.parametrize(
    "text, language, wanted",
    [
        ("x = 1\n\f\ndef f(): pass\n", "python", "x = 1\n\f\n\ndef f():\n    pass\n"),
        ("a\n\fb\n", "python", "a\n\f\nb\n"),
        ("class A {\nint a; \f int b;\n}", "java", "class A {\n    int a;\n\f\n    int b;\n}\n"),
    ],
)
def test_form_feeds_stay_on_lines_of_their_own(text: str, language: str, wanted: str) -> None:
    result = stilo.reformat(text, language)
    assert result.text == wanted
    assert not stilo.reformat(wanted, language).changed


@pytest.mark.parametrize(
    "demo", sorted(filter(Path.is_file, DEMO.iterdir())), ids=lambda path: path.suffix
)
def test_nothing_is_left_to_the_garbage_collector(demo: Path) -> None:
    styles = stilo.Styles({"import.order": "groups"})
    stilo.reformat_file(demo, styles=styles)
    gc.collect()
    stilo.reformat_file(demo, styles=styles)
    assert gc.collect() == 0


@pytest.mark.parametrize("is_on", [True, False])
@pytest.mark.parametrize("text", ["[1]", "[1"])
def test_the_garbage_collector_is_as_it_was(is_on: bool, text: str) -> None:
    was_on = gc.isenabled()
    try:
        gc.enable() if is_on else gc.disable()
        with suppress(stilo.SyntaxFault):
            stilo.reformat(text, "json")
        assert gc.isenabled() == is_on
    finally:
        gc.enable() if was_on else gc.disable()
