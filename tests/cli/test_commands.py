"""The command line as its users meet it: output, exit status, files."""

from __future__ import annotations

import os
import stat
import subprocess
import sys
from pathlib import Path

import pytest

import stilo

MESSY = b'{\n"berth":4,\n\t"lanes":[1,2]}\n'
TIDY = b'{\n  "berth": 4,\n  "lanes": [1, 2]\n}\n'


@pytest.fixture
def messy(tmp_path: Path) -> Path:
    path = tmp_path / "berth.json"
    path.write_bytes(MESSY)
    return path


def test_apply_writes_once_and_keeps_mode_and_link(run, messy: Path, tmp_path: Path) -> None:
    messy.chmod(0o640)
    link = tmp_path / "link.json"
    link.symlink_to(messy)
    done = run("apply", link)
    assert done.exit_code == 0 and "laid out" in done.output
    assert messy.read_bytes() == TIDY
    assert link.is_symlink()
    assert stat.S_IMODE(messy.stat().st_mode) == 0o640
    before = messy.stat()
    again = run("apply", messy)
    assert again.exit_code == 0 and "in style before: 1" in again.output
    assert (messy.stat().st_mtime_ns, messy.stat().st_ino) == (before.st_mtime_ns, before.st_ino)
    assert sorted(os.listdir(tmp_path)) == ["berth.json", "link.json"]


def test_proof_names_place_and_setting(run, messy: Path) -> None:
    done = run("proof", "--report", "all", messy)
    assert done.exit_code == 1
    first = done.output.splitlines()[0]
    assert first.startswith(f'{messy}:2:1: no indent, 2 spaces wanted (indent = 2)')
    assert "indent of 1 tab, 2 spaces wanted" in done.output
    messy.write_bytes(TIDY)
    assert run("proof", messy).exit_code == 0


def test_preview_prints_and_changes_nothing(run, messy: Path) -> None:
    done = run("preview", messy)
    assert done.exit_code == 0 and done.stdout_bytes == TIDY
    patch = run("preview", messy, "--patch")
    assert '-"berth":4,\n' in patch.output and '+  "berth": 4,\n' in patch.output
    assert messy.read_bytes() == MESSY
    piped = run("preview", "-", "--name", "x.json", text=MESSY)
    assert piped.stdout_bytes == TIDY
    assert run("preview", "-", "--language", "json", text=MESSY).stdout_bytes == TIDY
    assert run("preview", "-", text=MESSY).exit_code == 2


def test_preview_takes_settings_and_lines(run, messy: Path) -> None:
    assert b"\n    \"berth\"" in run("preview", messy, "--set", "indent=4").stdout_bytes
    only = run("preview", messy, "--within", "3").stdout_bytes
    assert only == b'{\n"berth":4,\n"lanes": [1, 2]\n}\n'


def test_why_names_rule_setting_and_origin(run, messy: Path) -> None:
    done = run("why", f"{messy}:2:1")
    assert done.exit_code == 0
    assert "a line break, indented by 2 columns" in done.output
    assert "entries.wrap = stack, json.stilo:" in done.output
    assert run("why", f"{messy}:9").exit_code == 2
    assert run("why", messy).exit_code == 2


def test_demo_shows_both_and_writes_its_files(run, tmp_path: Path) -> None:
    done = run("demo", "--folder", tmp_path / "play")
    assert done.exit_code == 0 and "Sailing.java" in done.output
    assert (tmp_path / "play" / "timetable.json").exists()


ERRORS = [
    ("missing.json", None, "missing.json: no such file"),
    ("latin.json", b'{"a": "\xe9"}', "latin.json: not UTF-8 (byte 0xe9 in line 1); left as it is"),
    ("bin.json", b"{\0}", "bin.json: binary file (NUL byte at offset 1); left as it is"),
    (
        "notes.txt",
        b"x",
        "notes.txt: no language is known for this file name; name one with --language: c, cpp, csharp, css, html, java, javascript, json, markdown, python, toml, tsx, typescript",
    ),
    (
        "open.json",
        b'{"a": [1, 2}',
        'open.json:1:12: syntax error: "]" is missing, to close "[" of 1:7; the file is left as it was',
    ),
    (
        "more.json",
        b'{"a": 1}}',
        'more.json:1:9: syntax error: "}" closes nothing that is open; the file is left as it was',
    ),
    (
        "A.java",
        b"class A { void f() { x(1 } }",
        'A.java:1:26: syntax error: ")" seems to be missing before "}", to close "(" of 1:23; the file is left as it was',
    ),
    (
        "B.java",
        b"class B {\n  int x = ;\n}",
        'B.java:2:9: syntax error: "=" is not expected here; the file is left as it was',
    ),
]


@pytest.mark.parametrize("name, content, message", ERRORS, ids=[name for name, *_ in ERRORS])
@pytest.mark.parametrize("command", ["apply", "proof"])
def test_error_is_one_line_and_the_other_files_are_done(
    run, messy: Path, monkeypatch: pytest.MonkeyPatch, command: str, name, content, message
) -> None:
    monkeypatch.chdir(messy.parent)
    if content is not None:
        Path(name).write_bytes(content)
    done = run(command, name, "berth.json")
    assert done.exit_code == 2
    assert message in done.output.splitlines()
    assert "Traceback" not in done.output
    if command == "apply":
        assert messy.read_bytes() == TIDY
    if isinstance(content, bytes):
        assert Path(name).read_bytes() == content


def test_settings_are_checked(run, messy: Path) -> None:
    wrong = run("preview", messy, "--set", "widht=80")
    assert wrong.exit_code == 2 and 'did you mean "width"?' in wrong.output
    wrong = run("preview", messy, "--set", "width=wide")
    assert wrong.exit_code == 2 and "a whole number from 20 to 400" in wrong.output
    assert run("preview", messy, "--set", "width").exit_code == 2


def test_a_sheet_of_ones_own(run, tmp_path: Path) -> None:
    sheet = tmp_path / "tide.stilo"
    sheet.write_text(
        '@language tide { grammar: tree_sitter_json; pairs: "[" "]"; }\n'
        'string { token: whole }\n"," { after: none }\n'
    )
    done = run("preview", "-", "--sheet", sheet, text=b"[1 ,2]")
    assert done.stdout_bytes == b"[ 1 ,2 ]\n"
    sheet.write_text("strin { }")
    assert run("preview", "-", "--sheet", sheet, text=b"[]").exit_code == 2


def test_start_up_imports_no_parser_and_no_sheet() -> None:
    code = (
        "import sys; from stilo.cli.main import main\n"
        "try: main(['--help'])\nexcept SystemExit: pass\n"
        "print([m for m in ('tree_sitter', 'tinycss2', 'rich', 'stilo.language') if m in sys.modules])"
    )
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True)
    assert done.stdout.splitlines()[-1] == "[]", done.stderr


def test_public_names_are_all_there() -> None:
    for name in stilo.__all__:
        assert getattr(stilo, name).__module__.startswith("stilo.")
    with pytest.raises(AttributeError):
        stilo.nothing


def test_the_first_settings_have_options_of_their_own(run, messy: Path) -> None:
    narrow = run("preview", messy, "--width", "20", "--indent", "3")
    assert (
        narrow.stdout_bytes
        == run("preview", messy, "--set", "indent=3", "--set", "width=20").stdout_bytes
    )
    assert b'\n   "berth": 4' in narrow.stdout_bytes
    assert b'\n\t"berth": 4' in run("preview", messy, "--tabs").stdout_bytes
    wide = run("preview", messy, "--tabs", "--indent", "8", "--set", "width=20").stdout_bytes
    assert b'\n\t"lanes": [\n\t\t1, 2\n' in wide
    refused = run("preview", messy, "--width", "wide")
    assert refused.exit_code == 2 and "width cannot be" in refused.output


@pytest.mark.parametrize("command", ["apply", "proof", "preview"])
def test_lines_that_stay_as_they_are_are_told(run, tmp_path: Path, command: str) -> None:
    path = tmp_path / "berth.c"
    path.write_text("int  a;\n\n@@ (one\n  two) @@\n\nint b;\n")
    done = run(command, path)
    where = f"{path}:3:1: lines 3 to 4 stay as they are: they cannot be read"
    assert where in done.output
    assert done.exit_code == {"apply": 0, "proof": 1, "preview": 0}[command]


def test_a_file_in_style_tells_of_such_lines_too(run, tmp_path: Path) -> None:
    path = tmp_path / "berth.c"
    path.write_text("int a;\n\n@@\n")
    done = run("proof", path)
    assert done.exit_code == 0
    assert f"{path}:3:1: the line stays as it is: it cannot be read" in done.output
