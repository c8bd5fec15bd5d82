"""Which language a file is in, where its name alone does not tell."""

from __future__ import annotations

from pathlib import Path

import pytest

from stilo import Styles


HEADERS = [
    ("namespace skerry {\n}\n", "cpp"),
    ("  class Berth;\n", "cpp"),
    ("template <class T> T moor(T berth);\n", "cpp"),
    ("#include <vector>\n", "cpp"),
    ("struct Ferry : Vessel {\n};\n", "cpp"),
    ("void moor(const Berth &berth);\n", "cpp"),
    ("/* a class of\n * namespace skerry {\n */\nint class;\n", "c"),
    ("#include <string.h>\nstruct berth { int lane : 3; };\n", "c"),
    ('#ifdef __cplusplus\nextern "C" {\n#endif\nclass Berth;\n', "c"),
    ("", "c"),
]


@pytest.mark.parametrize("text, language", HEADERS)
def test_the_text_of_a_header_tells_its_language(tmp_path: Path, text: str, language: str) -> None:
    header = tmp_path / "berth.h"
    header.write_text(text)
    assert Styles().language_name(header) == language
    (tmp_path / "stilo.toml").write_text('[files]\n"*.h" = "c"\n')
    assert Styles().language_name(header) == "c"


def test_a_sheet_of_ones_own_claims_files_by_their_text(tmp_path: Path) -> None:
    sheet = '@language log { grammar: tree_sitter_json; files: "*.log"; claims: "*.h" "^SKERRY" "(?!)"; }'
    (tmp_path / "log.stilo").write_text(sheet)
    (tmp_path / "stilo.toml").write_text('[sheets]\nlog = "log.stilo"\n')
    for text, language in (("SKERRY\n", "log"), ("int lane;\n", "c")):
        header = tmp_path / "berth.h"
        header.write_text(text)
        assert Styles().language_name(header) == language


def test_files_of_other_names_are_not_claimed(tmp_path: Path) -> None:
    for name, language in (("Berth.java", "java"), ("berth.c", "c")):
        (tmp_path / name).write_text("class Berth {\n}\n")
        assert Styles().language_name(tmp_path / name) == language
