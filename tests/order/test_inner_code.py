"""Code within template strings: its spaces, and what of it stays."""

from __future__ import annotations

import re

import pytest
from hypothesis import given
from hypothesis import strategies as some

import stilo
from stilo.edits import apply_edits
from stilo.errors import SheetError
from stilo.language import Language
from stilo.order import inner_code
from stilo.registry import BASE, sheet_text

JAVASCRIPT = stilo.load_language("javascript")


def laid_out(text: str, language: str = "javascript", **style: str) -> stilo.Result:
    """A text in a style; a second run changes nothing."""
    values = {name.replace("_", "-"): value for name, value in style.items()}
    result = stilo.reformat(text, language, values)
    assert apply_edits(result.source.raw, result.edits) == result.data
    assert not stilo.reformat(result.data, language, values).changed
    return result


@pytest.mark.parametrize(
    "code, wanted",
    [
        (" berth ", "berth"),
        (" quay.berths ", "quay.berths"),
        ("a+b", "a + b"),
        ("f( a,b )", "f(a, b)"),
        ("open?1:2", "open ? 1 : 2"),
        ("f('a' , \"b\")", "f('a', \"b\")"),
        ("a/* tide */+b", "a /* tide */ + b"),
        ("(a,b)", "(a, b)"),
        ("async  a=>await  a", "async a => await a"),
        ("lanes[ 0 ]", "lanes[0]"),
        ("/[ ]x/.test( a )", "/[ ]x/.test(a)"),
    ],
)
def test_code_in_its_line(code: str, wanted: str) -> None:
    for before, after in (("", ""), ("Berth  ", "\n  low "), ("\\${ x }\\\\", "$")):
        text = f"sail(`{before}${{{code}}}{after}`)\n"
        result = laid_out(text)
        assert result.text == f"sail(`{before}${{{wanted}}}{after}`)\n"
        assert (
            [finding.message for finding in result.findings] == ["other spaces wanted in this code"]
        )
        assert not laid_out(text, template_code="keep").changed


@pytest.mark.parametrize(
    "template",
    [
        "`\\${ a }`",
        "`$ { a+b }`",
        "`${ f(() => { return a+b }) }`",
        "`${ 'it\\'s' +a } ${ a }`",
        '`${ f("${ a }") } ${ a }`',
        "`${ f(`${ a }`) } ${ b }`",
        "`${\n  a+b\n}`",
    ],
)
def test_what_stays(template: str) -> None:
    assert not laid_out(f"sail({template})\n").changed


def test_code_of_several_lines_stays_beside_other_code() -> None:
    assert laid_out("a(`${ b } ${c+\nd}`)\n").text == "a(`${b} ${c+\nd}`)\n"


def test_other_languages_with_templates() -> None:
    assert (
        laid_out("const a: string = `${ b as  C }`;\n", "typescript").text
        == ("const a: string = `${b as C}`;\n")
    )
    assert laid_out("a = <b c={`d ${ e }`} />;\n", "tsx").text == "a = <b c={`d ${e}`} />;\n"


def test_spaces_are_those_of_the_style() -> None:
    style = {"comma.after": "none", "binary-operator.before": "none"}
    result = stilo.reformat("a(`${f(b, c)+ 1}`)\n", "javascript", style)
    assert result.text == "a(`${f(b,c)+ 1}`)\n"


def test_a_part_and_what_is_left() -> None:
    text = "a(`${ b }`);\nc(`${ d }`);\ng(`${ h }`);\n// stilo: leave\ne(`${ f }`);\n"
    assert stilo.reformat(text, JAVASCRIPT, lines=[(2, 2)]).text == text.replace("{ d }", "{d}")
    assert "e(`${ f }`)" in laid_out(text).text


def test_code_that_cannot_be_read_alone_stays() -> None:
    text = "a(`${ b => }`)\n"
    pieces = inner_code._Pieces(JAVASCRIPT.facts.inner_code, JAVASCRIPT, JAVASCRIPT.values({}))
    assert pieces.laid_out(b" b  => ") == b" b  => "
    with pytest.raises(stilo.SyntaxFault):
        stilo.reformat(text, JAVASCRIPT)


def test_pieces_are_read_together_and_each_alone_if_one_cannot_be(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    seen: list[int] = []
    read = inner_code._Pieces._read

    def noted(pieces: inner_code._Pieces, codes: list[bytes]) -> bool:
        seen.append(len(codes))
        return read(pieces, codes)

    monkeypatch.setattr(inner_code._Pieces, "_read", noted)
    assert (
        laid_out("a(`${b+c} ${d} ${e*f} ${b+c}`)\n").text
        == "a(`${b + c} ${d} ${e * f} ${b + c}`)\n"
    )
    assert seen == [2, 2, 2]  # as found, as checked, and in a second run; a name is not read
    seen.clear()
    pieces = inner_code._Pieces(JAVASCRIPT.facts.inner_code, JAVASCRIPT, JAVASCRIPT.values({}))
    codes = [b"a+b", b"b =>", b"a);(b", b"c*d"]
    pieces.learn(codes)
    assert seen == [4, 1, 1, 1, 1]
    known = stilo.load_language("typescript")
    others = inner_code._Pieces(known.facts.inner_code, known, known.values({}))
    others.learn(codes[:2])  # lines that cannot be read are left there, and hide the fault
    assert others.laid_out(b"a+b") == b"a + b"
    assert others.known[b"b =>"] is None
    assert [pieces.laid_out(code) for code in codes] == [b"a + b", b"b =>", b"a);(b", b"c * d"]


def test_code_that_would_be_read_otherwise_is_told(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(inner_code._Pieces, "_spaced", lambda *asked: b"a - b")
    with pytest.raises(
        stilo.UnsafeResult, match="2:6: with other spaces in the code within its tokens"
    ):
        stilo.reformat("b;\nc(`${a+b}`);\n", JAVASCRIPT)


def test_it_is_laid_out_at_its_new_width() -> None:
    text = "sail(quay, `${  berth  }`)\n"
    assert laid_out(text, width="22").text == "sail(quay, `${berth}`)\n"


def test_a_template_of_another_language_keeps_its_holes() -> None:
    text = "a = css`\nb{c:${ d }}\n`;\n"
    style = stilo.Styles({"inner-texts": "css css"}, "default").of("a.js")
    found = stilo.reformat_styled(text, style)
    assert not stilo.reformat_styled(found.data, style).changed
    assert found.text == "a = css`\n  b { c: ${d} }\n`;\n"


@given(
    some.lists(some.sampled_from("${ } { } \\ ` ' \" a + ( ) , \n // . =>".split(" ")), max_size=12)
)
def test_any_template(parts: list[str]) -> None:
    text = f"a(`{' '.join(parts)}`)\n"
    try:
        result = stilo.reformat(text, JAVASCRIPT)
    except stilo.SyntaxFault:
        return
    assert re.sub(r"\s", "", result.text) == re.sub(r"\s", "", text)
    assert not stilo.reformat(result.data, JAVASCRIPT).changed


@pytest.mark.parametrize(
    "said, told",
    [
        ('inner-code: a b string "x" "y" "(" ")";', "has a group `code`"),
        ('inner-code: a b string "(" "(?P<code>y)" "(" ")";', "inner-code: missing )"),
        ('inner-code: a b string "x" "y";', "inner-code"),
        ('inner-code: a b strin "x" "(?P<code>y)" "(" ")";', 'no kind of node or token "strin"'),
        ('inner-code: a b string "x" "(?P<code>y)" "(" ")";', '"inner-code" names no setting: "a"'),
    ],
)
def test_faults_of_the_fact(said: str, told: str) -> None:
    sheet = f'@language tides {{ grammar: tree_sitter_json; files: "*.tide"; {said} }}'
    with pytest.raises(SheetError, match=re.escape(told)):
        Language([("base.stilo", sheet_text(BASE)), ("tides.stilo", sheet)])
