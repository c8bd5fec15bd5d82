"""Which files a run is about."""

from __future__ import annotations

import os
import subprocess
from pathlib import Path

import pytest

import stilo
from stilo.run.find import Finder


def found(*paths: str) -> tuple[list[str], Finder]:
    finder = Finder(stilo.Styles())
    return [target.path for target in finder.find(paths or (".",))], finder


TREE = dict.fromkeys(
    [
        "a.py",
        "b/c.java",
        "b/d/e.json",
        "b/notes.txt",
        "Makefile",
        ".hidden/f.py",
        "node_modules/g.py",
        "b/vendor/h.py",
        "z.toml",
    ],
    "",
)


def test_all_that_has_a_language_in_order_and_the_rest_counted(place) -> None:
    place(TREE)
    names, finder = found()
    assert names == ["a.py", "z.toml", "b/c.java", "b/d/e.json"]
    assert finder.passed_over == {"in no language": 2} and not finder.faults


def test_what_is_named_is_taken_whatever_it_is_and_once(place) -> None:
    place(TREE)
    names, _ = found("b/vendor/h.py", "node_modules", "b/notes.txt", "a.py", "./a.py", "missing.py")
    assert names == ["b/vendor/h.py", "node_modules/g.py", "b/notes.txt", "a.py", "missing.py"]


def test_patterns_where_the_shell_has_left_them(place) -> None:
    place(TREE)
    assert found("b/**/*.json", "*.py")[0] == ["b/d/e.json", "a.py"]
    names, finder = found("*.java")
    assert not names and str(finder.faults[0]) == "*.java: no file fits this pattern"
    place({"odd[1].py": ""})
    assert found("odd[1].py")[0] == ["odd[1].py"]


@pytest.mark.parametrize("folder", [".", "b"])
def test_links_lead_nowhere(place, folder: str) -> None:
    root = place(TREE)
    (root / "b" / "loop").symlink_to(root)
    (root / "b" / "link.py").symlink_to(root / "a.py")
    os.mkfifo(root / "b" / "pipe.py")
    names, finder = found(folder)
    assert [name for name in names if name.startswith("b")] == ["b/c.java", "b/d/e.json"]
    assert finder.passed_over["links"] == 2
    assert found("b/link.py")[0] == ["b/link.py"]


def test_what_the_project_skips_and_the_languages_that_it_names(place) -> None:
    place({**TREE, "stilo.toml": 'skip = ["b/d/"]\n[files]\n"Make*" = "toml"\n'})
    names, finder = found()
    assert names == ["Makefile", "a.py", "stilo.toml", "z.toml", "b/c.java"]
    assert finder.passed_over == {"in no language": 1, "skipped": 1}


def test_a_folder_that_cannot_be_listed_is_told(place, monkeypatch: pytest.MonkeyPatch) -> None:
    place(TREE)
    scandir = os.scandir

    def refusing(path: str):
        if path == "b":
            raise PermissionError(13, "Permission denied")
        return scandir(path)

    monkeypatch.setattr(os, "scandir", refusing)
    names, finder = found()
    assert names == ["a.py", "z.toml"]
    assert [str(fault) for fault in finder.faults] == ["b: cannot be listed: Permission denied"]


IGNORED = {
    ".gitignore": "*.tmp.py\n/made/\n!kept.tmp.py\n# comment\nb/*.py\n",
    "b/.gitignore": "!back.py\ndeep/\n",
    "src/.gitignore": "/only.py\n",
    **dict.fromkeys(
        [
            "a.py",
            "x.tmp.py",
            "kept.tmp.py",
            "made/a.py",
            "src/made/a.py",
            "b/a.py",
            "b/back.py",
            "b/deep/a.py",
            "src/only.py",
            "src/c/only.py",
            "excluded.py",
        ],
        "",
    ),
}


@pytest.mark.parametrize("start", [".", "src", "b"])
def test_what_git_ignores_as_git_itself_tells_it(place, start: str) -> None:
    root: Path = place(IGNORED)
    subprocess.run(["git", "init", "-q", root], check=True)
    (root / ".git" / "info" / "exclude").write_text("excluded.py\n")
    said = subprocess.run(
        ["git", "ls-files", "--others", "--exclude-standard", "*.py"],
        cwd=root,
        capture_output=True,
        text=True,
        check=True,
    )
    wanted = {name for name in said.stdout.split() if start == "." or name.startswith(f"{start}/")}
    assert set(found(start)[0]) == wanted and wanted


def test_without_a_repository_nothing_is_ignored(place) -> None:
    place({".gitignore": "*.py\n", "a.py": ""})
    assert found()[0] == ["a.py"]


@pytest.mark.parametrize(
    "line, is_found",
    [
        ("#!/usr/bin/env python3", True),
        ("#! /usr/bin/python3.11 -E", True),
        ("#!/usr/bin/env -S LANE=1 pypy3", True),
        ("#!/bin/sh", False),
        ("#!/usr/bin/env", False),
        ("#!", False),
        ("x = 1", False),
        ("", False),
    ]
)
def test_scripts_without_an_ending_by_their_first_line(place, line: str, is_found: bool) -> None:
    place({"moor": f"{line}\nx=1\n", "moor.txt": "#!/usr/bin/env python3\n"})
    os.mkfifo("pipe")
    names, finder = found()
    assert names == ["moor"] * is_found and finder.passed_over["in no language"] == 2 - is_found
    if is_found:
        assert stilo.reformat_file("moor").text == f"{line}\nx = 1\n"
        assert [target.path for target in finder.find(["moor"])] == []


def test_what_a_program_made_is_passed_over_in_folders(place) -> None:
    place({
        "a.py": "# Generated from tide.idl: DO NOT EDIT\n",
        "b.py": "\n\n\n\n# do not edit\n",
        "c.py": "\n\n\n\n\n# do not edit: it is late\n",
        "d.py": "x = 'made by tide'\n",
        "sub/e.py": "# Made by Tide\n# do not edit\n",
        "sub/stilo.toml": 'generated = ["Made by tide"]\n',
    })
    names, finder = found()
    # The file that lists the words holds them, too.
    assert names == ["c.py", "d.py"] and finder.passed_over == {"generated": 4}
    assert found("a.py")[0] == ["a.py"]
    place({"sub/stilo.toml": "generated = []\n"})
    assert found("sub")[0] == ["sub/e.py", "sub/stilo.toml"]
    place({"sub/stilo.toml": 'generated = "x"\n'})
    with pytest.raises(stilo.ConfigError, match='sub/stilo.toml:1:1: generated takes a list'):
        found("sub")
