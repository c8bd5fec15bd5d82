"""The one way for bytes to be handed out."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import pytest

import stilo
from stilo.run import write_result
from stilo.verify.check import Checked, check, check_document


def test_nothing_but_checked_bytes_is_written(tmp_path: Path) -> None:
    path = tmp_path / "a.py"
    path.write_bytes(b"x  = 1\n")
    with pytest.raises(TypeError):
        write_result(path, b"x = 1\n", b"x  = 1\n")  # type: ignore[arg-type]
    assert path.read_bytes() == b"x  = 1\n"
    result = stilo.reformat(b"x  = 1\n", "python")
    assert isinstance(result.data, Checked)
    write_result(path, result.data, b"x  = 1\n")
    assert path.read_bytes() == b"x = 1\n"


@pytest.mark.parametrize("options", [{}, {"lines": (1, 1)}, {"only_order": True}])
def test_every_result_is_checked(options: dict[str, object]) -> None:
    result = stilo.reformat(
        "import b\nimport  a\n", "python", {"import.order": "groups"}, **options
    )
    assert isinstance(result.data, Checked)


@pytest.mark.parametrize(
    "data", [b"y = 1\n", b"x = 1\r\n\r\n", b"x = 1", b"\xef\xbb\xbfx = 2\n", b""]
)
def test_other_bytes_than_those_laid_out_are_refused(data: bytes) -> None:
    result = stilo.reformat("x  = 1\ny = 2\n", "python")
    with pytest.raises(stilo.UnsafeResult):
        check(result.language, result.source, result.source, result._plan, result._rendered, data)


def test_other_bytes_are_refused_where_the_language_has_no_check_of_its_own() -> None:
    result = stilo.reformat("[1 ]", "json")
    with pytest.raises(stilo.UnsafeResult, match="in these line ends"):
        check(
            result.language, result.source, result.source, result._plan, result._rendered, b"[2]\n"
        )


def test_a_result_that_is_read_in_another_encoding_is_refused() -> None:
    result = stilo.reformat(b"\n# coding: latin-1\nx  = 1\n", "python")
    moved = replace(result._rendered, gaps=[b"\n\n", *result._rendered.gaps[1:]])
    with pytest.raises(stilo.UnsafeResult, match="would not be read as iso-8859-1 any more"):
        check(
            result.language,
            result.source,
            result.source,
            result._plan,
            moved,
            b"\n\n# coding: latin-1\nx = 1\n"
        )


def test_an_edit_that_is_not_noted_is_told_with_its_place() -> None:
    result = stilo.reformat("x  = 1\ny  = 2\n", "python")
    tokens = [token.replace(b"2", b"3") for token in result._rendered.tokens]
    wrong = replace(result._rendered, tokens=tokens)
    with pytest.raises(stilo.UnsafeResult, match="2:6"):
        check(result.language, result.source, result.source, result._plan, wrong, b"x = 1\ny = 3\n")


def test_a_document_says_the_same_around_its_cells() -> None:
    source = stilo.reformat("[1]", "json").source
    with pytest.raises(stilo.UnsafeResult):
        check_document(source, b"[2]", bytes.decode, "[1]")
    assert check_document(source, b"[1]", bytes.decode, "[2]") == b"[1]"


ENCODED = [
    b"\n\n# coding: latin-1\nx  = '\xc3\xa4'\n",
    b"\n# coding: latin-1\nx  = '\xc3\xa4'\n",
    b"import b\n# coding: latin-1\nimport a\nx  = 1\n",
    b"# coding: utf-7\nx  = '+AGE-'\n",
]


@pytest.mark.parametrize("data", ENCODED)
def test_python_reads_the_result_in_the_same_encoding(data: bytes) -> None:
    import ast

    for style in ({}, {"import.order": "groups"}, {"comment-columns": 30}):
        result = stilo.reformat(data, "python", style)
        assert result.changed
        assert (
            ast.dump(ast.parse(result.data)) == ast.dump(ast.parse(data)) or "import" in result.text
        )


@pytest.mark.parametrize("ends", ["lf", "crlf", "keep"])
def test_carriage_returns_in_texts_stay(ends: str) -> None:
    import ast

    data = b'x = """a\r\r\nb\rc"""\r\ny  = 1\r\n'
    result = stilo.reformat(data, "python", {"line-ends": ends})
    assert ast.dump(ast.parse(result.data)) == ast.dump(ast.parse(data))
    assert not stilo.reformat(result.data, "python", {"line-ends": ends}).changed


def test_characters_by_number_that_hide_tokens_are_told() -> None:
    with pytest.raises(stilo.SyntaxFault, match="1:22: a character written by its number"):
        stilo.reformat('class A { String s = "b\\u005c"  +  c // "\n; }', "java")
    plain = 'class A { String s = "\\u0041\\\\u005c"; char c = \'\\u00e4\'; }'
    assert "\\u0041\\\\u005c" in stilo.reformat(plain, "java").text


def test_a_line_that_the_grammar_takes_for_part_of_another_is_told() -> None:
    with pytest.raises(stilo.SyntaxFault, match="2:1: the grammar tree_sitter_python takes this"):
        stilo.reformat("a,\nb = ()\n", "python")


FREE = [
    "if b:\n    x = (a and\n  b)\n",
    "if b:\n    x = {\n1:\n2}\n",
    "if a:\n    from a import (\n# c\n  b)\n",
    "def f():\n    ()[\n0]\n",
    "if a:\n    \t((a.\na))\n",
    "if a:\n    x = f('(', # )\n'''\n[''',\n1)\n",
]


@pytest.mark.parametrize("text", FREE)
def test_lines_within_brackets_may_begin_anywhere(text: str) -> None:
    import ast

    result = stilo.reformat(text, "python")
    assert ast.dump(ast.parse(result.text)) == ast.dump(ast.parse(text))
    assert not stilo.reformat(result.text, "python").changed


def test_a_comment_that_the_grammar_takes_for_a_part_of_a_token_is_no_part_of_it() -> None:
    text = "if (type(a)is# type: ignore\nnot(type(b),)is c):d"
    with pytest.raises(stilo.SyntaxFault, match='takes a comment for a part of "is not"'):
        stilo.reformat(text, "python")


@pytest.mark.parametrize(
    "text", ["if x:\npass\n", "class A:\n\nx = 1\n", "def f():\n    if x:\n    y\n"]
)
def test_a_body_that_is_missing_is_a_fault_though_nothing_changes(text: str) -> None:
    with pytest.raises(stilo.SyntaxFault, match="expected an indented block"):
        stilo.reformat(text, "python")
