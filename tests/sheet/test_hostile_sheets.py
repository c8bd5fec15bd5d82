"""Sheets from somebody else: whatever they say, the answer is a line, and soon."""

from __future__ import annotations

import re
from pathlib import Path

import pytest

import stilo
from stilo.patterns import SlowPattern, compiled
from stilo.readers.grammar import GrammarMissing, GrammarReader

PYTHON = "@language x { grammar: tree_sitter_python; %s }"
FAULTS = [
    ("@language x { grammar: ; }", "grammar takes"),
    ("@language x { grammar: os; }", "a grammar package is named tree_sitter_"),
    (PYTHON % "grammar-function: __sizeof__;", "named language or language_"),
    (PYTHON % "grammar-function: language_deck;", "no such grammar"),
    (PYTHON % 'pairs: "(";', "pairs takes"),
    (PYTHON % 'own-brackets: "(";', "own-brackets takes"),
    (PYTHON % 'own-follows: assignment "=";', "own-follows says nothing without own-brackets"),
    (PYTHON % "joins: ;", "joins takes"),
    (PYTHON % "read-as: ;", "read-as takes"),
    (PYTHON % 'tokens: "(";', "unterminated"),
    (PYTHON % 'said: "(";', "unterminated"),
    (PYTHON % 'bound: "(";', "unterminated"),
    (PYTHON % 'free-lines: "(";', "unterminated"),
    (PYTHON % "held: a b c;", "held takes"),
    (PYTHON % "held: width b indent d;", ""),
    ("@language python { } @setting width { values: a b; default: a }", "another sort of setting"),
    ("@language python { } @setting indent { range: 0 999; default: 4 }", "goes beyond"),
    (
        "@language python { } @setting density { values: dense loose; default: loose }",
        "does not know",
    ),
    ("@language python { } @setting width { range: ² ³; default: 3 }", "two whole numbers"),
    (
        "@language python { } @setting width { range: 20 99999999999999999999; default: 30 }",
        "two whole numbers",
    ),
    (
        "@language python { } call:has(> argument_list:has(> identifier)) { cost: 1 }",
        "cannot stand within :has()",
    ),
    ("a {" * 3000, ""),
    ("(" * 30000, ""),
]


@pytest.mark.parametrize("sheet, said", FAULTS, ids=[str(n) for n in range(len(FAULTS))])
def test_a_sheet_that_cannot_be_is_told(sheet: str, said: str) -> None:
    try:
        language = stilo.define_language(sheet, "python")
    except stilo.StiloError as error:
        assert re.search(re.escape(said), str(error)), str(error)
        assert all(":" in line for line in str(error).splitlines())
    else:
        assert not said
        stilo.reformat("x = 1\n", language)


def test_a_pattern_that_takes_forever_is_given_up() -> None:
    sheet = '@language python { } identifier[text~="^(a|a)*c$"] { before: space }'
    language = stilo.define_language(sheet)
    with pytest.raises(SlowPattern, match="takes too long"):
        stilo.reformat("a" * 60 + "bc = 1\n", language)


def test_a_pattern_that_is_slow_again_and_again_is_given_up(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    monkeypatch.setattr("stilo.patterns.SLOW", -1.0)
    pattern = compiled("a")
    for _ in range(20):
        assert pattern.search("ba") is not None
    with pytest.raises(SlowPattern):
        pattern.search("ba")


def test_our_own_patterns_have_no_limit() -> None:
    assert isinstance(compiled("a", is_ours=True), re.Pattern)
    limited = compiled(b"(a)|b", re.DOTALL)
    assert limited.groups == 1 and limited.sub(b"c", b"ab") == b"cc"
    assert [found.group() for found in limited.finditer(b"ab")] == [b"a", b"b"]
    assert limited.findall(b"ab") == [b"a", b""] and limited.fullmatch(b"ab") is None


def test_what_a_grammar_package_gives_is_looked_at(monkeypatch: pytest.MonkeyPatch) -> None:
    import tree_sitter_json

    monkeypatch.setattr(tree_sitter_json, "language_deck", lambda: 12345, raising=False)
    with pytest.raises(GrammarMissing, match="gives no grammar"):
        GrammarReader("tree_sitter_json", "language_deck")


def test_a_sheet_is_a_regular_file_of_a_bounded_size(tmp_path: Path) -> None:
    import os

    large = tmp_path / "large.stilo"
    large.write_bytes(b" " * ((1 << 20) + 1))
    os.mkfifo(tmp_path / "pipe.stilo")
    for path, said in [
        (large, "larger than 1 MB"),
        (tmp_path / "pipe.stilo", "no regular file"),
        (Path("/dev/zero"), "no regular file"),
        (tmp_path, "is a folder"),
        (Path("a\0b"), "NUL"),
    ]:
        with pytest.raises(stilo.UnreadableSource, match=said):
            stilo.define_language(path)


@pytest.mark.parametrize("pattern", ["((", "a", "(?P<text>a", "(?P<said>a)"])
def test_a_pattern_of_what_is_held_needs_its_group(pattern: str) -> None:
    with pytest.raises(
        stilo.SheetError, match=r"^sheet:2:9: held cannot be '.*': a pattern in quotes"
    ):
        stilo.define_language(f'@language markdown {{ }}\nfence {{ held: "{pattern}" }}\n')
