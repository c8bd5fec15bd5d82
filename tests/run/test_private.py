"""A style of one's own in a clone, while commits stay in the team's: with git itself."""

from __future__ import annotations

import io
import subprocess
from pathlib import Path

import pytest

import stilo
from stilo.run.git import GitFailed
from stilo.run.private import PACKET, TwoStyles, serve

TEAM = (
    'class Ferry {\n    int lanes;\n\n    void moor(int berth) {\n        if (berth > 0) {\n'
    "            tie(berth);\n        }\n    }\n}\n"
)
PRIVATE = stilo.reformat(TEAM, "java", stilo.Styles(style="allman").of("A.java").values).text
LEGACY = "class Old{int x ; void a( ){ b( ) ; }}\n"


def git(*arguments: str, fails: bool = False) -> str:
    who = (
        "-c",
        "user.name=Skerry",
        "-c",
        "user.email=quay@example.org",
        "-c",
        "merge.conflictStyle=merge",
    )
    done = subprocess.run(["git", *who, *arguments], capture_output=True, text=True, check=False)
    assert bool(done.returncode) is fails, done.stderr
    return done.stdout


@pytest.fixture
def clone(place, run) -> Path:
    """A repository in the team's style, with a private style in its working copy."""
    folder: Path = place({
        "Ferry.java": TEAM,
        "Old.java": LEGACY,
        "notes.txt": "x\n",
        "bad.java": "class {\n",
        "stilo.toml": "width = 80\n",
    })
    git("init", "-q", "-b", "main")
    git("add", ".")
    git("commit", "-qm", "Begin")
    done = run("private", "allman")
    assert done.exit_code == 0 and "1 file in allman here" in done.output
    return folder


def is_clean() -> bool:
    return git("status", "--porcelain") == ""


def in_team_style(revision: str = "HEAD", name: str = "Ferry.java") -> bool:
    text = git("show", f"{revision}:{name}")
    return stilo.reformat(text, "java", {"width": 80}).text == text


def test_the_working_copy_is_private_and_nothing_differs(clone: Path) -> None:
    assert (clone / "Ferry.java").read_text() == PRIVATE != TEAM
    assert (clone / "Old.java").read_text() == LEGACY  # nobody put it in style yet
    assert is_clean() and git("diff") == ""


def test_what_is_committed_is_in_the_teams_style(clone: Path) -> None:
    text = PRIVATE.replace("int lanes;", "int lanes, berths;")
    (clone / "Ferry.java").write_text(text)
    patch = git("diff")
    assert "+    int lanes, berths;" in patch and patch.count("\n+") == 2  # one is a name
    git("commit", "-qam", "Count berths")
    assert is_clean() and in_team_style() and (clone / "Ferry.java").read_text() == text
    assert git("blame", "-s", "Ferry.java").count("\n") == TEAM.count("\n")


def test_branch_merge_rebase_and_stash(clone: Path) -> None:
    git("checkout", "-qb", "deep")
    (clone / "Ferry.java").write_text(PRIVATE.replace("tie(berth);", "tie(berth, 2);"))
    git("commit", "-qam", "Tie twice")
    assert is_clean() and in_team_style()
    git("checkout", "-q", "main")
    assert (clone / "Ferry.java").read_text() == PRIVATE and is_clean()
    (clone / "Ferry.java").write_text(PRIVATE.replace("int lanes;", "int lanes = 4;"))
    git("commit", "-qam", "Four lanes")
    git("merge", "-q", "--no-edit", "deep")
    assert is_clean() and in_team_style()
    merged = (clone / "Ferry.java").read_text()
    assert "tie(berth, 2);" in merged and "lanes = 4" in merged and "\n{\n" in merged
    git("checkout", "-q", "deep")
    git("rebase", "-q", "main~1")
    assert is_clean() and in_team_style() and in_team_style("HEAD~1")
    (clone / "Ferry.java").write_text(merged.replace("lanes = 4", "lanes = 5"))
    git("stash", "-q")
    assert is_clean() and "lanes = 4" in (clone / "Ferry.java").read_text()
    git("stash", "pop", "-q")
    assert "lanes = 5" in (clone / "Ferry.java").read_text() and not is_clean()
    git("checkout", "-q", "--", "Ferry.java")
    assert is_clean()


def test_a_conflict_is_resolved_and_committed_in_the_teams_style(clone: Path) -> None:
    git("checkout", "-qb", "deep")
    (clone / "Ferry.java").write_text(PRIVATE.replace("int lanes;", "int lanes = 3;"))
    git("commit", "-qam", "Three")
    git("checkout", "-q", "main")
    (clone / "Ferry.java").write_text(PRIVATE.replace("int lanes;", "int lanes = 4;"))
    git("commit", "-qam", "Four")
    git("merge", "-q", "deep", fails=True)
    assert "<<<<<<<" in (clone / "Ferry.java").read_text()
    (clone / "Ferry.java").write_text(PRIVATE.replace("int lanes;", "int lanes = 7;"))
    git("add", ".")
    git("commit", "-qm", "Merge")
    assert is_clean() and in_team_style()


def test_a_new_file_is_put_in_style_and_an_old_one_keeps_its_lines(clone: Path) -> None:
    (clone / "New.java").write_text("class New{int x;}\n")
    (clone / "Old.java").write_text(LEGACY.replace("int x", "int y"))
    git("add", ".")
    git("commit", "-qm", "Add one")
    assert git("show", "HEAD:New.java") == stilo.reformat("class New{int x;}", "java").text
    assert git("show", "HEAD:Old.java") == LEGACY.replace("int x", "int y")
    assert is_clean()


def test_the_end_brings_the_teams_style_back(clone: Path, run) -> None:
    assert "there is a private style here already" in run("private", "gnu").output
    (clone / "Ferry.java").write_text(PRIVATE.replace("int lanes;", "int lanes = 9;"))
    done = run("private", "--end")
    assert done.exit_code == 0 and "1 file in the team's style again" in done.output
    assert (clone / "Ferry.java").read_text() == TEAM.replace("int lanes;", "int lanes = 9;")
    assert git("status", "--porcelain") == " M Ferry.java\n"
    assert "stilo" not in (clone / ".git" / "config").read_text()
    assert "stilo" not in (clone / ".git" / "info" / "attributes").read_text()
    assert run("private", "--end").exit_code == 2


def test_a_package_of_the_repository_is_not_run(clone: Path) -> None:
    (clone / "stilo").mkdir()
    (clone / "stilo" / "__init__.py").write_text("open('ran', 'w')\n")
    (clone / "Ferry.java").write_text(PRIVATE.replace("int lanes;", "int lanes = 9;"))
    git("add", ".")
    assert not (clone / "ran").exists() and "lanes = 9" in git("diff", "--cached")


@pytest.mark.parametrize("arguments", [(), ("no-such-style",), ("allman", "--end")])
def test_what_cannot_be_set_up_changes_nothing(place, run, arguments: tuple[str, ...]) -> None:
    folder: Path = place({"A.java": LEGACY})
    assert run("private", "allman").exit_code == 2  # no repository
    git("init", "-q")
    before = (folder / ".git" / "config").read_text()
    done = run("private", *arguments)
    assert done.exit_code == 2 and len(done.output.splitlines()) == 1
    assert (folder / ".git" / "config").read_text() == before


def packet(*lines: str) -> bytes:
    return b"".join(b"%04x" % (len(line) + 5) + line.encode() + b"\n" for line in lines) + b"0000"


HELLO = packet("git-filter-client", "version=2") + packet("capability=clean", "capability=smudge")


def test_the_protocol_in_many_packets_and_with_faults(tmp_path: Path) -> None:
    text = b"# " + b"x" * 200_000 + b"\n"
    data = b"".join(
        b"%04x" % (len(part) + 4) + part
        for part in (text[at : at + 50_000] for at in range(0, len(text), 50_000))
    )
    asked = HELLO + packet("command=smudge", "pathname=a=b.py") + data + b"0000"
    asked += (
        packet("command=clean", "pathname=\udcff.py".encode(errors="replace").decode()) + b"0000"
    )
    answer = io.BytesIO()
    serve(TwoStyles(tmp_path, "allman"), io.BytesIO(asked), answer)
    said = answer.getvalue()
    head = (
        packet("git-filter-server", "version=2") + packet("capability=clean", "capability=smudge")
    )
    assert said.startswith(head + packet("status=success"))
    assert said.count(b"x") > 200_000 - 10 and said.endswith(packet("status=success") + b"0000" * 2)
    sizes, at = [], len(head)
    while at < len(said):
        length = int(said[at : at + 4], 16)
        sizes.append(length)
        at += max(length, 4)
    assert max(sizes) <= PACKET
    with pytest.raises(GitFailed):
        serve(
            TwoStyles(tmp_path, "allman"),
            io.BytesIO(packet("git-filter-client", "version=9")),
            answer
        )
