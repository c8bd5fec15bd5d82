"""Long strings: where they are split, what stays whole, and how pieces are joined again."""

from __future__ import annotations

import ast
import re
from collections.abc import Sequence

import pytest
from hypothesis import given
from hypothesis import strategies as some

import stilo
from stilo.edits import apply_edits
from stilo.errors import SheetError, UnsafeResult
from stilo.language import Language
from stilo.order import pieces
from stilo.patterns import SlowPattern
from stilo.registry import BASE, sheet_text

NOTICE = "the sailing to Vallay waits for the tide"


def laid_out(
    text: str,
    language: str = "python",
    mode: str = "refill",
    width: int = 40,
    lines: tuple[int, int] | None = None,
    **style: object,
) -> stilo.Result:
    """A text in a narrow style; a second run of the whole changes nothing."""
    given = {name.replace("_", "-"): str(value) for name, value in style.items()}
    values = {"long-strings": mode, "width": str(width), **given}
    result = stilo.reformat(text, language, values, lines=lines)
    assert apply_edits(result.source.raw, result.edits) == result.data
    if lines is None:
        assert not stilo.reformat(result.data, language, values).changed
    return result


def told(result: stilo.Result) -> list[tuple[int, str, str | None]]:
    """What is said of strings: line, message, setting."""
    return [
        (f.position.line, f.message, f.reason.setting)
        for f in result.findings
        if f.code == "pieces"
    ]


@pytest.mark.parametrize(
    "language, text, wanted",
    [
        (
            "python",
            f"a = '{NOTICE}'\n",
            "a = (\n    'the sailing to Vallay waits for '\n    'the tide'\n)\n",
        ),
        (
            "java",
            f'String a = "{NOTICE}";\n',
            'String a =\n        "the sailing to Vallay waits "\n                + "for the tide";\n',
        ),
        (
            "javascript",
            f'const a = "{NOTICE}";\n',
            'const a =\n  "the sailing to Vallay waits for " +\n  "the tide";\n',
        ),
        (
            "typescript",
            f'const a: string = "{NOTICE}";\n',
            'const a: string =\n  "the sailing to Vallay waits for " +\n  "the tide";\n',
        ),
        (
            "c",
            f'char *a = "{NOTICE}";\n',
            'char *a = "the sailing to Vallay waits "\n          "for the tide";\n',
        ),
        (
            "cpp",
            f'auto a = u8"{NOTICE}";\n',
            'auto a =\n        u8"the sailing to Vallay waits "\n        u8"for the tide";\n',
        ),
        (
            "csharp",
            f'var a = "{NOTICE}";\n',
            'var a = "the sailing to Vallay waits "\n        + "for the tide";\n',
        ),
    ],
)
def test_a_string_is_split_and_joined_again(language: str, text: str, wanted: str) -> None:
    split = laid_out(text, language)
    assert split.text == wanted
    message = "the string does not fit on its line: 2 pieces wanted"
    assert told(split) == [(1, message, "long-strings")]
    joined = laid_out(wanted, language, width=100)
    assert joined.text == text
    assert told(joined)[0][1] == "2 pieces of a string fit on one line"
    assert not told(laid_out(text, language, "keep"))


def test__pieces_are_joined_only_if_that_is_asked_for() -> None:
    text = f"a = (\n    'the sailing '\n    'to Vallay waits, {NOTICE}'\n)\n"
    split = (
        "'the sailing '\n    'to Vallay waits, the sailing to '\n    'Vallay waits for the tide'\n"
    )
    assert split in laid_out(text, mode="split").text
    refilled = "'the sailing to Vallay waits, the '\n    'sailing to Vallay waits for the '\n"
    result = laid_out(text)
    assert refilled in result.text
    message = "the 2 pieces of this string do not fill their lines: 3 pieces wanted"
    assert told(result) == [(2, message, "long-strings")]


@pytest.mark.parametrize("spare", [0, 1])
@pytest.mark.parametrize(
    "language, before, after", [("python", "a = '", "'"), ("java", 'f("', '");')]
)
def test__what_just_fits_stays(language: str, before: str, after: str, spare: int) -> None:
    room = 40 - len(before) - len(after)
    inner = ("ab " * 20)[:room - 1].rstrip().ljust(room, "x")
    text = f"{before}{inner}{'y' * spare}{after}\n"
    result = laid_out(text, language)
    assert len(told(result)) == spare
    assert (result.text == text) is not spare


@pytest.mark.parametrize(
    "language, text",
    [
        ("python", f'"""{NOTICE}"""\n'),
        ("python", f'a = """{NOTICE}"""\n'),
        ("python", f'a = r"{NOTICE}"\n'),
        ("python", f'def f():\n    "{NOTICE}"\n'),
        ("python", f'"{NOTICE}".join(a)\n'),
        ("python", f'"{NOTICE}" % a\n'),  # no line can break there
        ("python", 'a = f"{waits[the, sailing] or to[Vallay]}"\n'),
        ("python", 'a = f"{waits["the sailing"]}{to["the Vallay"]}"\n'),
        ("python", 'a = "\\N{LATIN SMALL LETTER A WITH CIRCUMFLEX}"\n'),
        ("python", f'a = "{NOTICE.replace(" ", "_")}"\n'),
        ("python", f'a = "  {NOTICE.replace(" ", "_")}"\n'),
        ("python", f"# stilo: leave\na = '{NOTICE}'\n"),
        ("python", "# stilo: leave\na = 'b ' 'c'\n"),
        ("python", f"# stilo: leave file\na = '{NOTICE}'\n"),
        ("javascript", f'"{NOTICE}";\n'),
        ("javascript", f'import "{NOTICE}";\n'),
        ("javascript", f'require("{NOTICE}");\n'),
        ("javascript", f'import("{NOTICE}");\n'),
        ("javascript", f'a = {{\n  "{NOTICE}":\n    1\n}};\n'),
        ("javascript", f'a = `{NOTICE} waits`;\n'),
        ("javascript", f'a = <b title="{NOTICE}" />;\n'),
        ("typescript", f'type A = "{NOTICE}";\n'),
        ("c", f'#include "{NOTICE}.h"\n'),
        ("c", f'extern "{NOTICE}";\n'),
        ("cpp", f'auto a = R"({NOTICE})";\n'),
        ("cpp", f'auto a = "{NOTICE}"_s;\n'),
        ("csharp", f'a = @"{NOTICE}";\n'),
        ("csharp", f'a = $"{{b}} {NOTICE}";\n'),
    ],
)
def test__what_stays_whole(monkeypatch: pytest.MonkeyPatch, language: str, text: str) -> None:
    monkeypatch.setattr(pieces, "TRIALS", 3)
    result = laid_out(text, language)
    assert "".join(result.text.split()) == "".join(text.split())
    assert not told(result)
    if language == "python" and "leave file" not in text:
        assert len(told(laid_out(f"{text}z = '{NOTICE}'\n"))) == 1


@pytest.mark.parametrize("name", ["assert", "serverAssert", "_Pragma", "TO_STRING"])
def test__macros_may_make_text_of_a_string(name: str) -> None:
    assert f'"{NOTICE}"' in laid_out(f'void f() {{\n{name}(a && "{NOTICE}");\n}}\n', "c").text
    other = f'void f() {{\nprintf("{NOTICE}");\n}}\n'
    assert f'"{NOTICE}"' not in laid_out(other, "c").text


@pytest.mark.parametrize(
    "parts",
    [
        "'a ' f'b'",  # the letters differ
        "'a' 'b'",  # split within a word
        "'a\\n' 'b'",  # a line of what is shown
        "'a\\n ' 'b'",
        "'a: ' ' b'",  # set in columns
        "'a ' # b\n'c'",
        "'a \"b\" ' \"it's\"",  # neither quote would do
        "\"it's \" 'a \"b\"'",
        "'a\\\\ ' 'b'",
    ],
)
def test__what_is_not_joined(parts: str) -> None:
    text = f"a = (\n{parts}\n)\n"
    result = laid_out(text)
    assert not told(result)
    assert ast.dump(ast.parse(result.text)) == ast.dump(ast.parse(text))


@pytest.mark.parametrize(
    "parts, joined",
    [
        ("'it ' \"is\"", "\"it is\""),
        ("\"it's \" 'so'", "\"it's so\""),
        ("'so ' \"it's\"", "\"so it's\""),
        ("'a' ' b'", "'a b'"),
        ("'a  ' 'b' ' c'", "'a  b c'"),
        ("f'a ' f'{b} ' F'c'", "f'a {b} '\n    F'c'"),
    ],
)
def test__how_pieces_are_joined(parts: str, joined: str) -> None:
    assert joined in laid_out(f"a = {parts}\n").text


def test__a_sum_is_joined_where_its_operands_stand_beside_each_other() -> None:
    text = 'a = "b " + c + "d " + "e " + f + ("g " + "h") + "i " + j - "k " + "l";\n'
    result = laid_out(text, "javascript", width=100)
    assert result.text == 'a = "b " + c + "d e " + f + ("g h") + "i " + j - "k " + "l";\n'


def test__what_stands_behind_the_last_piece_has_room() -> None:
    text = 'a = f("the berth of the sailing is closed" + b);\n'
    result = laid_out(text, "javascript", width=39).text
    assert result == 'a = f(\n  "the berth of the sailing is " +\n    "closed" + b\n);\n'
    assert laid_out(text, "javascript").text.count('"') == 2
    # A comma that the layout adds takes its column, too.
    room = 40 - len("    '',")
    for spare in 0, 1:
        text = f"a = [b, 'c {'d' * (room + spare - 2)}']\n"
        assert len(told(laid_out(text))) == spare


def test__a_sign_before_the_left_operand_joins_nothing() -> None:
    rule = 'string { joined-by: "+"; pieces: refill }'
    sheets = [(f"{name}.stilo", sheet_text(name)) for name in (BASE, "javascript")]
    language = Language([*sheets, ("tides.stilo", rule)])
    for text in 'a = +"b " + "c";\n', 'a = d - +"b " + "c";\n':
        assert stilo.reformat(text, language).text == text
    assert stilo.reformat('a = d + "b " + "c";\n', language).text == 'a = d + "b c";\n'


def test__the_columns_of_what_is_shown_count() -> None:
    wide = "ああああああああ ああああああああ ああああ"
    result = laid_out(f"a = '{wide}'\r\nb = 1\r\n")
    assert (
        result.text
        == ("a = (\r\n    'ああああああああ ああああああああ '\r\n    'ああああ'\r\n)\r\nb = 1\r\n")
    )


def test__a_string_that_is_data_stays() -> None:
    assert told(laid_out(f"a = '{'word ' * 2000}'\n")) == []
    assert told(laid_out(f"a = '{'word ' * 200}'\n")) != []


def test__only_the_strings_in_the_lines_asked_for_change() -> None:
    text = f"a = '{NOTICE}'\nb = 'c ' 'd'\ne = '{NOTICE}'\n"
    result = laid_out(text, lines=(2, 2))
    assert result.text == f"a = '{NOTICE}'\nb = 'c d'\ne = '{NOTICE}'\n"
    # A string is laid out with its statement, though it stands in other lines.
    inside = laid_out(f"a = b(\n    '{NOTICE}'\n    ,  c)\nd = '{NOTICE}'\n", lines=(3, 3))
    assert inside.text.count("'the tide'") == 1 and "'the tide',\n    c" in inside.text


def test__a_piece_fills_its_line_to_the_width() -> None:
    """The sign after a piece, and what follows the last one, take their columns."""
    text = f'throw new A("{NOTICE} and the sun");\n'
    for width in range(24, 70):
        result = laid_out(text, "javascript", width=width).text
        lines = result.split("\n")
        assert max(map(len, lines)) <= width
        parts = [at for at, line in enumerate(lines) if line.endswith('" +')]
        for at in parts:
            word = re.match(r' *(?:\+ )?"(\w+ ?)', lines[at + 1])
            assert word and len(lines[at]) + len(word[1]) > width


def test__a_result_that_says_something_else_is_refused(monkeypatch: pytest.MonkeyPatch) -> None:
    filled = pieces._filled

    def lossy(*given: object) -> Sequence[bytes]:
        parts = filled(*given)  # type: ignore[arg-type]
        return tuple(part.replace(b"tide", b"time") for part in parts)

    monkeypatch.setattr(pieces, "_filled", lossy)
    said = "1:.*its long strings in these pieces"
    for language, text in ("python", f"a = '{NOTICE}'\n"), ("c", f'char *a = "{NOTICE}";\n'):
        with pytest.raises(UnsafeResult, match=said):
            laid_out(text, language)
    monkeypatch.setattr(pieces, "_meaning", lambda text, values: None)
    with pytest.raises(UnsafeResult, match=said):  # by the language's own check
        laid_out(f"a = '{NOTICE}'\n")


_WORDS = some.lists(
    some.sampled_from(["a", "bb", "ccc", "it's", '"so"', "{x}", "ü", "tide-bound", "\\\\"]),
    min_size=1,
    max_size=30
)


@given(_WORDS, some.data(), some.sampled_from(["", "f", "b"]), some.integers(20, 90))
def test__the_value_stays_whatever_the_pieces(
    words: list[str], data: some.DataObject, letters: str, width: int
) -> None:
    if letters == "b":
        words = [word for word in words if word != "ü"] or ["a"]
    ends = data.draw(some.lists(some.integers(1, len(words)), max_size=4, unique=True))
    borders = [0, *sorted({*ends, len(words)})]
    parts = [" ".join(words[a:b]) for a, b in zip(borders, borders[1:])]
    parts = [part + " " for part in parts[:-1]] + parts[-1:]
    quoted = [letters + "'" + part.replace("'", "\\'") + "'" for part in parts]
    one = "def f():\n    call(a, " + " ".join(quoted) + ")\n"
    whole = "def f():\n    call(a, " + letters + "'" + " ".join(words).replace("'", "\\'") + "')\n"
    result = laid_out(one, width=width)
    assert ast.dump(ast.parse(result.text)) == ast.dump(ast.parse(one))
    if "\\\\" not in words[:-1]:  # after which nothing is split, nor joined
        assert result.text == laid_out(whole, width=width).text
    laid_out(one, mode="split", width=width)


@given(_WORDS, some.integers(30, 90), some.sampled_from(["java", "javascript", "c", "csharp"]))
def test__pieces_of_every_language_settle(words: list[str], width: int, language: str) -> None:
    inner = " ".join(words).replace('"', '\\"')
    text = f'class A {{ void F() {{ a = b(c, "{inner}"); }} }}\n'
    if language == "c":
        text = f'void f() {{ a = b(c, "{inner}"); }}\n'
    elif language == "javascript":
        text = f'function f() {{ a = b(c, "{inner}"); }}\n'
    result = laid_out(text, language, width=width)
    joined = re.sub(r'"\s*\+?\s*"(?=\S)', "", result.text.replace('\\"', "\0")).replace("\0", '\\"')
    assert f'"{inner}"' in joined
    laid_out(text, language, "split", width=width)


def tides(rule: str) -> Language:
    """A language whose texts are numbers and strings, of which lists are made."""
    facts = '@language tides { grammar: tree_sitter_json; files: "*.tide" }'
    rules = 'string { token: whole; joined-by: beside; %s } "[" { break: open }'
    sheets = [("base.stilo", sheet_text(BASE)), ("tides.stilo", facts + rules % rule)]
    return Language(sheets)


def test_a_sheet_says_where_nothing_is_split() -> None:
    text = f'["{NOTICE}"]'
    style = {"width": "30"}
    for rule in ('pieces: split; holes: "the sailing.*"', "pieces: keep", "pieces: split"):
        assert f'"{NOTICE}"' in stilo.reformat(text, tides(rule), style).text  # pieces are no JSON
    with pytest.raises(SheetError, match="holes.*a pattern in quotes"):
        tides('holes: "("')
    text = f'["{"a" * 40} {NOTICE}c"]'
    with pytest.raises(SlowPattern):
        stilo.reformat(text, tides('pieces: split; holes: "(a|a)*c"'), style)
