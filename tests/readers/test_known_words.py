"""Words that a style names are read so at once, whether or not the grammar could go on."""

from __future__ import annotations

from pathlib import Path

import pytest

import stilo

TEXT = "void f(void)\n{\n    QUAY_OPEN\n    ramp = 1;\n}\n"
JOINED = TEXT.replace("QUAY_OPEN\n    ", "QUAY_OPEN ")


def laid(text: str, words: str) -> str:
    """A text of C laid out with known words."""
    return stilo.reformat(text, "c", {"known-words": words}).text


def test_a_word_that_the_grammar_takes_for_a_type_ends_a_statement() -> None:
    assert laid(TEXT, "") == JOINED
    assert laid(TEXT, "QUAY_OPEN ended") == TEXT
    assert laid(TEXT, "") == JOINED  # the language itself has learnt nothing


def test_several_words_have_one_reading_and_several_readings_stand_side_by_side() -> None:
    text = "void f(void)\n{\n    OPEN\n    a = 1;\n    CLOSE\n    b = 2;\n    each(x, y) {\n        g(x);\n    }\n}\n"
    assert laid(text, "OPEN CLOSE ended | each head") == text


@pytest.mark.parametrize("words", ["QUAY_OPEN", "QUAY_OPEN beside", "ended", "A ended | B"])
def test_what_names_no_reading_is_refused(words: str) -> None:
    with pytest.raises(stilo.BadSetting, match="such as .QUAY typed."):
        laid(TEXT, words)


def test_it_stands_in_a_file_of_settings(tmp_path: Path) -> None:
    (tmp_path / "stilo.toml").write_text('[c]\nknown-words = "QUAY_OPEN ended"\n')
    path = tmp_path / "ramp.c"
    path.write_text(TEXT)
    assert not stilo.reformat_file(path).changed


def test_a_word_within_another_is_none_of_them() -> None:
    assert laid(TEXT, "QUAY ended | OPEN ended") == JOINED


def test_languages_without_such_words_have_no_such_setting() -> None:
    assert "known-words" not in stilo.load_language("csharp").settings
    with pytest.raises(stilo.UnknownSetting):
        stilo.reformat("class A {}\n", "csharp", {"known-words": "A ended"})
