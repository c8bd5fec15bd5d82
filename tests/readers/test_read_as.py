"""What a grammar cannot read is read as something else, also where a text is edited."""

from __future__ import annotations

import pytest

import stilo
from stilo.edits import Edit, apply_edits

JAVA = stilo.load_language("java")
TEXT = b"class A { void moor(String @Open ... berths) {} }\n"


def test_it_is_read_as_it_is_only_where_that_fails() -> None:
    parsed = JAVA.read(TEXT)
    assert not parsed.has_error and parsed.is_rewritten
    assert b"@Open" in b"".join(parsed.tree.texts)
    assert not JAVA.read(b"class A { @Open int berth; }\n").is_rewritten


def test_an_edited_text_is_read_in_the_same_way() -> None:
    parsed = JAVA.read(TEXT)
    at = TEXT.index(b"@Open")
    edits = [Edit(at, at + len(b"@Open"), b"@Open @Dry")]
    again = parsed.edited(apply_edits(TEXT, edits), edits)
    assert again is not None and not again.has_error
    gone = [Edit(at, at + len(b"@Open "), b"")]
    plain = parsed.edited(apply_edits(TEXT, gone), gone)
    assert plain is not None and not plain.is_rewritten


def test_type_arguments_between_a_call_and_a_template_stay_as_they_are() -> None:
    text = "const  a = styled( Text )< { open?: A<B> } >`\n x;\n`;\n"
    wanted = "const a = styled(Text)<{ open?: A<B> } >`\n x;\n`;\n"
    for language in ("typescript", "tsx"):
        result = stilo.reformat(text, language)
        assert result.text == wanted
        assert not result.unread
        assert not stilo.reformat(result.text, language).changed


def test_await_before_parentheses_is_no_call() -> None:
    """The grammar takes it for one, in which a comma could stand behind the last item."""
    text = "async () => { await (0, berths.moor)(ferry) }\n"
    style = {"arguments.trailing": "stacked", "arguments.wrap": "stack-always", "width": 20}
    result = stilo.reformat(text, "javascript", style).text
    assert "await (0, berths.moor)(\n    ferry,\n  )" in result


def test_what_a_parameter_of_a_type_is_taken_apart_into_may_end_with_a_line() -> None:
    """The grammar takes the line end for the end of a member of a type."""
    text = "type Moor = (quay: Quay, {\n  berth\n}: {\n  berth: number;\n}) => void;\n"
    for language in ("typescript", "tsx"):
        result = stilo.reformat(text, language, {"width": 30})
        assert not result.unread
        assert "".join(result.text.split()) == "".join(text.split())
        assert not stilo.reformat(result.text, language, {"width": 30}).changed


@pytest.mark.parametrize("language", ["javascript", "typescript", "tsx"])
def test_a_word_that_begins_no_expression_shows_that_a_text_was_misread(language: str) -> None:
    """The grammar reads a name and a block there, and says nothing."""
    text = "let tide = 1\nexport\n{ tide }\n"
    result = stilo.reformat(text, language, {"statement-ends": "sign"})
    assert result.text == "let tide = 1;\nexport { tide };\n"
    with pytest.raises(stilo.SyntaxFault, match='2:1: .*"export" is not expected here'):
        stilo.reformat(text.replace("export", "export // low"), language)


def test_elsewhere_the_word_may_be_a_name_or_a_part_of_one() -> None:
    text = "export1 = a.export;\nb.export();\nexport { tide as export };\nc = { export: 1 };\n"
    assert stilo.reformat(text, "javascript").text == text


def test_a_misread_word_is_found_in_an_edited_text() -> None:
    language, text = stilo.load_language("javascript"), b"let tide = 1\nexport { tide }\nsail()\n"
    parsed, at = language.read(text), text.index(b" {")
    edits = [Edit(at, at + 1, b"\n")]
    again = parsed.edited(apply_edits(text, edits), edits)
    assert again is not None and again.is_rewritten and not again.has_error
    edits = [Edit(at, at + 1, b" // low\n")]
    again = parsed.edited(apply_edits(text, edits), edits)
    assert again is not None and again.has_error
    (root, *_) = again.bodies(0, 0, set())
    assert [item.is_broken for item in root.items] == [False, True, False, False]


@pytest.mark.parametrize("language", ["c", "cpp"])
def test_ranges_of_cases_are_cases(language: str) -> None:
    text = (
        "int f(int n) {\n    switch (n) {\n    case A...B: case 'a'\n  ...  'z': return 1;  // in this case ... all\n"
        "    case -2 ...-1: return 2;\n    default: return 0;\n    }\n}\n"
    )
    result = stilo.reformat(text, language)
    rows = [row.strip() for row in result.text.split("\n")]
    assert [row for row in rows if row.startswith(("case", "default"))] == [
        "case A ... B:", "case 'a' ... 'z':", "case -2 ... -1:", "default:"
    ]
    assert not result.unread
    narrow = stilo.reformat(text.replace("-2", "A" * 30), language, {"width": 40})
    assert "A\n" in narrow.text and not stilo.reformat(narrow.text, language, {"width": 40}).changed


def test_what_only_looks_like_a_range_of_cases_stays_what_it_is() -> None:
    """It is looked for in texts alone that cannot be read: here for the name in capitals."""
    text = "QUAY_API(x) y;\n/* in that case */ void f(int a, ...);\nchar *s = \"case ...\";\n// case\nint g(...);\n"
    result = stilo.reformat(text, "c")
    assert (
        "f(int a, ...);" in result.text and "g(...);" in result.text and '"case ..."' in result.text
    )
