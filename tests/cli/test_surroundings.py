"""The command line in hard surroundings: folders of others, no home, streams that are closed or full."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import time
from pathlib import Path

import pytest


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    (tmp_path / "a.py").write_text("x  = 1\n")
    (tmp_path / "b.py").write_text("y  = 1\n")
    return tmp_path


def stilo(
    folder: Path, *arguments: str, shell: str = "", **environment: str
) -> subprocess.CompletedProcess[bytes]:
    """Run `stilo` as a process of its own. shell: what follows the command."""
    command = [sys.executable, "-m", "stilo", *arguments]
    if shell:
        command = ["bash", "-c", f'"$@" {shell}', "bash", *command]
    found = {**os.environ, **environment}
    found = {name: value for name, value in found.items() if value != "-"}
    return subprocess.run(command, cwd=folder, capture_output=True, env=found, timeout=60)


def test_what_lies_in_the_folder_is_not_run(folder: Path) -> None:
    for name in ("click", "tinycss2", "tree_sitter", "tree_sitter_python"):
        (folder / f"{name}.py").write_text("raise SystemExit('it was run')")
    done = stilo(folder, "proof", "a.py")
    assert done.returncode == 1 and b"it was run" not in done.stdout + done.stderr


@pytest.mark.parametrize("path", ["-", ".", "", "deck:."])
def test_grammars_and_styles_come_from_installed_packages(folder: Path, path: str) -> None:
    package = folder / "tree_sitter_deck"
    package.mkdir()
    (package / "__init__.py").write_text("raise SystemExit('it was run')")
    (package / "team.toml").write_text("width = 40\n")
    (folder / "s.stilo").write_text("@language deck { grammar: tree_sitter_deck; }")
    for wanted in (["--sheet", "s.stilo"], ["--style", "tree_sitter_deck:team"]):
        done = stilo(folder, "proof", "a.py", *wanted, PYTHONPATH=path)
        assert done.returncode == 2, done.stderr
        assert b"it was run" not in done.stdout + done.stderr


FULL = [
    ("> /dev/full", 2, b"standard output: No space left on device"),
    (">&-", 1, b"not in style"),
    ("2>&-", 1, b""),
    (">&- 2>&-", 1, b""),
    ("| true", 0, b""),
]


@pytest.mark.parametrize("shell, status, said", FULL, ids=[f[0] for f in FULL])
def test_streams_that_take_nothing(folder: Path, shell: str, status: int, said: bytes) -> None:
    done = stilo(folder, "proof", "a.py", shell=shell)
    assert done.returncode == status
    assert said in done.stderr
    assert b"Traceback" not in done.stderr and b"Exception ignored" not in done.stderr


def test_all_files_are_written_though_nobody_listens(folder: Path) -> None:
    done = stilo(folder, "apply", "a.py", "b.py", shell="> /dev/full")
    assert done.returncode == 2
    assert (folder / "a.py").read_text() == "x = 1\n"
    assert (folder / "b.py").read_text() == "y = 1\n"


def test_standard_input_that_is_closed(folder: Path) -> None:
    done = stilo(folder, "preview", "-", "--language", "python", shell="<&-")
    assert (done.returncode, done.stderr) == (2, b"standard input: is closed\n")


@pytest.mark.parametrize("path", ["/dev/zero", "pipe.py", "."])
def test_what_never_ends_is_not_read(folder: Path, path: str) -> None:
    os.mkfifo(folder / "pipe.py")
    done = stilo(folder, "preview", path, "--language", "python")
    assert done.returncode == 2 and len(done.stderr.splitlines()) == 1


def test_names_that_are_no_text(folder: Path) -> None:
    name = os.fsdecode(b"n\xff.py")
    (folder / name).write_text("x  = 1\n")
    done = stilo(folder, "preview", "--patch", name)
    assert done.returncode == 0 and b"+++ b/n\xff.py" in done.stdout
    assert stilo(folder, "apply", name).returncode == 0


def test_escape_sequences_do_not_reach_the_terminal(folder: Path) -> None:
    (
        folder / "e.py"
    ).write_bytes(b"x  = '\x1b[31m' \n\x9b = 1\n".replace(b"\x9b", "\u009b".encode()))
    (folder / "\x1b[31m.py").write_text("x  = 1\n")
    (folder / "stilo.toml").write_text('"\\u001b[31m" = 1\n')
    for arguments in (
        ["proof", "e.py"],
        ["proof", "\x1b[31m.py"],
        ["proof", "--style", "default", "e.py"],
    ):
        done = stilo(folder, *arguments)
        assert b"\x1b" not in done.stdout + done.stderr
        assert "\u009b".encode() not in done.stdout + done.stderr


def test_markup_in_a_value_is_text(folder: Path) -> None:
    done = stilo(folder, "settings", "a.py", "--set", "import.headers=[/x] | [bold]y")
    assert done.returncode == 0 and b"[/x]" in done.stdout


PLACES = [
    (["why", "a.py:²"], b"a place is FILE:LINE"),
    (["why", f"a.py:{'9' * 5000}"], b"a place is FILE:LINE"),
    (["why", "none.py:1"], b"none.py: no such file"),
    (["preview", "a.py", "--within", "²"], b"--within takes"),
    (["preview", "a.py", "--within", "1-"], b"--within takes"),
    (["preview", "a.py", "--within", "3-2"], b"there is no range of lines"),
    (
        ["settings", "none.py", *"--set width=80 --within 1 --save-in directive --yes".split()],
        b"no such file",
    ),
    (
        ["settings", "a.py", *"--set width=80 --within 9 --save-in directive --yes".split()],
        b"there is no line 9",
    ),
]


@pytest.mark.parametrize("arguments, said", PLACES, ids=[str(n) for n in range(len(PLACES))])
def test_places_that_are_none(folder: Path, arguments: list[str], said: bytes) -> None:
    done = stilo(folder, *arguments)
    assert done.returncode == 2 and said in done.stderr and b"Traceback" not in done.stderr


def test_the_demo_overwrites_nothing(folder: Path) -> None:
    (folder / "tickets.py").write_text("mine = 1\n")
    done = stilo(folder, "demo", "--folder", ".")
    assert done.returncode == 2 and b"tickets.py: is there already" in done.stderr
    assert (folder / "tickets.py").read_text() == "mine = 1\n"
    assert not (folder / "Sailing.java").exists()


def test_a_fault_of_ours_stops_no_other_file(folder: Path) -> None:
    (folder / "sitecustomize.py").write_text(
        "import stilo.embed.document as c\n"
        "was = c.run\n"
        "def fail(document, request):\n"
        "    if document.source.name == 'a.py': raise KeyError('tide')\n"
        "    return was(document, request)\n"
        "c.run = fail\n"
    )
    done = stilo(folder, "apply", "a.py", "b.py", PYTHONPATH=str(folder))
    assert done.returncode == 2
    assert b"a.py: a fault of Stilo (KeyError: 'tide'); left as it was" in done.stderr
    assert (folder / "b.py").read_text() == "y = 1\n"


def test_a_signal_leaves_nothing_behind(folder: Path) -> None:
    for number in range(60):
        (folder / f"c{number}.py").write_text("x  = 1\n" * 200)
    before = {path.name for path in folder.iterdir()}
    for wait in (0.25, 0.35, 0.45, 0.6):
        command = [sys.executable, "-m", "stilo", "apply", *sorted(before)]
        process = subprocess.Popen(
            command, cwd=folder, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL
        )
        time.sleep(wait)
        process.send_signal(signal.SIGTERM)
        assert process.wait(30) in (0, 128 + signal.SIGTERM, -signal.SIGTERM)
        assert {path.name for path in folder.iterdir()} == before
