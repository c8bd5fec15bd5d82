"""What a call of the library leaves after in its process: nothing but what it was asked for."""

from __future__ import annotations

import ast
import gc
import warnings
from concurrent.futures import ThreadPoolExecutor

import pytest

import stilo
from stilo.language import MOST_ROWS
from stilo.source import Position, Source
from stilo.width import display_width

#: A text of which Python warns, and whose check needs syntax trees.
WARNED = "x = ('\\d' +\n'\\w' is 1)\n"


def test_warning_filters_stay_whatever_runs_at_once() -> None:
    before = list(warnings.filters)
    with ThreadPoolExecutor(8) as pool:
        texts = [WARNED.replace("x", f"x{number}") for number in range(200)]
        found = list(pool.map(lambda text: stilo.reformat(text, "python").changed, texts))
    assert all(found)
    assert warnings.filters == before


def test_a_grammar_is_loaded_once_for_all_threads(monkeypatch: pytest.MonkeyPatch) -> None:
    import sys

    from stilo.installed import import_installed

    monkeypatch.delitem(sys.modules, "tree_sitter_json", raising=False)
    with ThreadPoolExecutor(8) as pool:
        found = list(pool.map(lambda _: import_installed("tree_sitter_json").language, range(64)))
    assert len(set(map(id, found))) == 1


def test_the_garbage_collector_is_left_alone(monkeypatch: pytest.MonkeyPatch) -> None:
    for name in ("disable", "enable", "freeze", "set_threshold"):
        monkeypatch.setattr(gc, name, lambda *_: pytest.fail("the collector was touched"))
    assert stilo.reformat(WARNED, "python").changed


def test_rules_are_kept_for_a_bounded_number_of_styles() -> None:
    language = stilo.load_language("json")
    names = [name for name in language.settings if name.startswith("entries.")]
    assert names
    for width in range(40, 80):
        stilo.reformat('{"a": 1}', "json", {"width": width, "tab-width": width % 16 + 1})
    few = len(language._rows)
    assert few <= MOST_ROWS
    for wrap in ("row", "flow", "stack", "stack-always"):
        for close in ("own-line", "same-line", "item-column"):
            for align in ("yes", "no"):
                style = {"entries.wrap": wrap, "entries.close": close, "items.align": align}
                stilo.reformat('{"a": 1}', "json", style)
    assert len(language._rows) == MOST_ROWS


def test_what_no_rule_asks_for_costs_no_rules() -> None:
    language = stilo.load_language("toml")
    one = language.rows(language.values({"tab-width": 3, "width": 50}))
    assert language.rows(language.values({"tab-width": 5, "width": 90})) is one
    assert language.rows(language.values({"items.wrap": "flow"})) is not one


MIXED = [
    (b"a  = 1\r\nb = 2\nc = 3\r\n", {}),
    (b"a  = 1\r\nb = 2\n", {"line-ends": "lf"}),
    (b"a = 1\nb = 2\n", {"line-ends": "crlf"}),
    (b'"""x\r\ny\n"""\r\n', {}),
    (b"\xef\xbb\xbfa = 1\r\nb = 2\n", {"charset": "utf-8"}),
    (b"import b\nimport a\n\n\n\nc = 1\r\n\r\n", {"import.order": "groups"}),
]


@pytest.mark.parametrize("data, style", MIXED)
def test_edits_lead_to_the_result_and_something_is_found(
    data: bytes, style: dict[str, str]
) -> None:
    result = stilo.reformat(data, "python", style)
    assert stilo.edits.apply_edits(data, result.edits) == result.data
    assert result.changed and result.findings
    assert not stilo.reformat(result.data, "python", style).changed


def test_line_ends_and_marks_are_found_with_their_setting() -> None:
    result = stilo.reformat(
        b"\xef\xbb\xbfa = 1\nb = 2\n", "python", {"line-ends": "crlf", "charset": "utf-8"}
    )
    said = [str(finding) for finding in result.findings]
    assert said[0].startswith("1:1: no byte-order mark wanted (charset = utf-8")
    assert said[1].startswith(
        "1:1: the line ends in LF (and 1 more), CRLF wanted (line-ends = crlf"
    )


@pytest.mark.parametrize(
    "charset", ["latin1", "utf-16le", "utf-16be", "utf-8-bom", "utf-8", "keep"]
)
def test_a_text_comes_back_as_a_text(charset: str) -> None:
    result = stilo.reformat("x  = 'äö'\n", "python", {"charset": charset})
    assert result.text == "x = 'äö'\n"


@pytest.mark.parametrize("text", ["aäb€c\nx𝄞y\n\nzz", "ä\nöü", "abc\nd", "", "\n"])
def test_places_are_counted_in_characters(text: str) -> None:
    source = Source.from_text(text)
    lines = source.data.decode().split("\n")[:-1]
    start = 0
    for number, line in enumerate(lines, 1):
        for column in range(len(line) + 1):
            offset = start + len(line[:column].encode())
            assert source.position(offset) == (number, column + 1)
            assert source.offset(Position(number, column + 1)) == offset
        start += len(line.encode()) + 1


@pytest.mark.parametrize(
    "text, columns",
    [("abc", 3), ("船", 2), ("👨‍👩‍👧‍👦", 2), ("é", 1), ("\u200b", 0), ("a\tb", 2), ("\x7f船\x85é", 3)]
)
def test_signs_of_several_characters_have_one_width(text: str, columns: int) -> None:
    assert display_width(text) == columns


def test_long_lines_are_compared_by_trees() -> None:
    text = "x = [" + ", ".join(map(str, range(3000))) + "]\n"
    result = stilo.reformat(text, "python", {"items.wrap": "flow"})
    assert result.text.count("\n") > 100
    assert eval(result.text[4:]) == list(range(3000))


def test_a_long_line_is_told_by_one_character() -> None:
    from stilo.languages.python.tokens import LONG, _has_long_lines

    line = "x" * LONG
    assert not _has_long_lines(f"{line}\n{line}") and not _has_long_lines("a\n" * LONG)
    assert _has_long_lines(f"{line}x") and _has_long_lines("a\n" * LONG + f"{line}x\n")


def test_cells_with_halves_of_characters_stay_as_they_are() -> None:
    import json

    cells = [
        {"cell_type": "code", "source": [f"x  = '{sign}'\n"]} for sign in ("\ud800", "\U0001f6a2")
    ]
    text = json.dumps({"cells": cells, "metadata": {}, "nbformat": 4})
    style = stilo.Styles().of("a.ipynb")
    result = stilo.reformat_styled(text, style, name="a.ipynb")
    assert "x  = '\\ud800'" in result.text and "x = '\\ud83d\\udea2'" in result.text


def test_what_is_public_can_be_listed_and_results_are_told_in_a_line() -> None:
    assert {"reformat", "Result", "DocumentResult"} <= set(dir(stilo))
    assert not {"annotations", "import_module", "Any"} & set(dir(stilo))
    assert (
        repr(stilo.reformat("x=1\n", "python", name="a.py"))
        == "<Result: a.py, python, to be changed>"
    )
    assert repr(stilo.reformat("x = 1\n", "python")) == "<Result: text, python, in style>"


def test_a_document_is_read_once_and_laid_out_many_times(monkeypatch: pytest.MonkeyPatch) -> None:
    from stilo.pipeline import lay_out, read
    from stilo.readers.grammar import GrammarReader
    from stilo.request import Document, Request
    from stilo.source import Source

    python = stilo.load_language("python")
    text = "import b, a\ndef f(x):\n  return [x,(x)]\n"
    document = Document(Source.from_text(text), python)
    known = read(document)
    monkeypatch.setattr(GrammarReader, "parse", None)  # nothing is parsed any more
    for indent in (2, 3, 8):
        values = python.values({"indent": indent})
        result = lay_out(known, Request(values))
        assert f"\n{' ' * indent}return [x, (x)]\n" in result.text


def test_a_path_decides_and_a_name_is_for_messages(place) -> None:
    place({"stilo.toml": "", "tide.py": ""})
    style = {"import.order": "groups"}
    text = "import tide\nimport os\n"
    assert (
        stilo.reformat(
            text, "python", {**style, "import.groups": ":standard | :project"}, path="a.py"
        ).text
        == ("import os\n\nimport tide\n")
    )
    assert not stilo.reformat(text, "python", style, path="__init__.py").changed
    assert stilo.reformat(text, "python", style, name="__init__.py").changed
    with pytest.raises(stilo.SyntaxFault, match="^deck:1:"):
        stilo.reformat("x = (", "python", name="deck", path="a.py")


@pytest.mark.parametrize("column", [0, 4, 9, 60])
@pytest.mark.parametrize(
    "style", [{}, {"indent-with": "tabs", "tab-width": 4}, {"docstrings": "align"}]
)
def test_code_for_a_place_further_in_is_the_same_code_there(column: int, style: dict) -> None:
    text = (
        "@route\ndef moor(self,berth,lane=4):\n  '''Moor.\n\n  At a berth.\n  '''\n"
        "  if berth : return lane+berth # x\n\n\n# c\ndeck = '''a\n  b'''\n"
        "crossings = [first_sailing,second_sailing,third_sailing,fourth_sailing,last_sailing]\n"
    )
    found = stilo.reformat_at(text, "python", column, style)
    tab = 4 if style.get("indent-with") else 0
    margin = "\t" * (column // tab) + " " * (column % tab) if tab else " " * column
    frame = "class Deck:\n" + margin + "pass\n" if column else ""
    wanted = ast.parse(text)
    body = ast.parse(frame + found).body[-1].body[1:] if column else ast.parse(found).body
    if "docstrings" in style:
        assert ast.get_docstring(body[0]) == ast.get_docstring(wanted.body[0])
        body, wanted.body = body[1:], wanted.body[1:]
    assert [*map(ast.dump, body)] == [*map(ast.dump, wanted.body)]
    lines = found.split("\n")
    assert all(line.startswith(margin) for line in lines if line and line[0] not in "A '")
    assert "\n  b'''" in found and "\n\n\n" + margin + "# c\n" in found
    if column < 60:
        assert max(len(line.expandtabs(4)) for line in lines) <= 79
    assert stilo.reformat_at("", "python", column) == ""


def test_block_comments_move_along_with_code_further_in() -> None:
    text = '/** Boards.\n * One lane.\n */\nvoid board() { String s = """\n  a\n b"""; }'
    assert stilo.reformat_at(f"class A {{\n{text} }}", "java", 8).split("\n")[:6] == [
        "        class A {",
        "            /** Boards.",
        "             * One lane.",
        "             */",
        "            void board() {",
        '                String s = """',
    ]


@pytest.mark.parametrize(
    "start, end, wanted",
    [(0, 4, True), (4, 9, True), (0, 9, True), (1, 4, False), (0, 3, False), (4, 8, False)]
)
def test_a_stretch_is_whole_lines_if_none_is_left_at_either_end(
    start: int, end: int, wanted: bool
) -> None:
    assert Source.from_text("a=1\nb=22\nc").takes_lines(start, end) is wanted


def test_a_blank_line_too_many_names_the_setting_that_keeps_fewer() -> None:
    text = b"if ramp_is_down:\n    load()\n\n\n# at low water\nelse:\n    wait()\n"
    (found,) = stilo.reformat(text, "python").findings
    assert (found.code, found.position[0]) == ("blank-lines", 5)
    assert found.reason.short() == "branch.blank-kept = 1"
