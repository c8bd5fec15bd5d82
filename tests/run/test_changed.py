"""Only what was changed since a revision."""

from __future__ import annotations

import subprocess
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from stilo.run.changed import changed_lines
from stilo.run.git import GitFailed


def git(*arguments: str) -> None:
    who = ("-c", "user.name=Skerry", "-c", "user.email=quay@example.org")
    subprocess.run(["git", *who, *arguments], check=True, capture_output=True)


OLD = "a=1\n\n\nb=2\n\n\ndef moor( berth ):\n    lane=berth\n\n\nc=3\n"


@pytest.fixture
def repository(place) -> Path:
    folder: Path = place({"a.py": OLD, "deep/b.py": OLD, "gone.py": OLD, ".gitignore": "made/\n"})
    git("init", "-q", "-b", "main")
    git("add", ".")
    git("commit", "-q", "-m", "Begin")
    return folder


def test_only_changed_statements_are_laid_out(repository: Path, place, run) -> None:
    place({"a.py": OLD.replace("b=2", "b=[2,3]"), "new.py": OLD, "made/c.py": OLD, "d.txt": "x"})
    (repository / "gone.py").unlink()
    done = run("apply", "--edited-since", "HEAD")
    assert done.exit_code == 0
    assert (repository / "a.py").read_text() == OLD.replace("b=2", "b = [2, 3]")
    assert (repository / "deep/b.py").read_text() == OLD == (repository / "made/c.py").read_text()
    assert (repository / "new.py").read_text().startswith("a = 1\n")
    assert "laid out: 2" in done.output and "1 not changed" in done.output
    assert run("proof", "--edited-since", "HEAD").exit_code == 0
    git("add", ".")
    git("commit", "-q", "-m", "Add b")
    assert "3 not changed" in run("apply", "--edited-since", "HEAD").output
    assert run("proof", "--edited-since", "HEAD~1", "a.py").exit_code == 0
    assert run("proof", "a.py").exit_code == 1


def test_a_body_whose_line_changed_and_one_that_lost_a_line(repository: Path, place, run) -> None:
    place({"a.py": OLD.replace("lane=berth", "lane=berth+1").replace("c=3\n", "")})
    assert run("apply", "--edited-since", "main", "--jobs", "2", ".").exit_code == 0
    assert (
        (repository / "a.py").read_text()
        == OLD.replace("lane=berth", "lane = berth + 1").replace("\n\nc=3\n", "")
    )


def test_names_of_all_sorts(repository: Path, place) -> None:
    names = ["tide table.py", "tïde.py", 'quo"te.py', "tab\there.py", "-a.py"]
    place({name: OLD for name in names})
    git("add", ".")
    git("commit", "-q", "-m", "Add them")
    place({name: OLD.replace("a=1", "a=2").replace("c=3", "c=4") for name in names})
    wanted = {repository.resolve() / name: [(1, 1), (11, 11)] for name in names}
    assert changed_lines(repository, "HEAD") == wanted
    assert changed_lines(repository / "deep", "HEAD") == wanted


def test_what_git_cannot_tell(repository: Path, place, run, tmp_path_factory, monkeypatch) -> None:
    for revision in ("nothing", "--output=x", ""):
        with pytest.raises(GitFailed):
            changed_lines(repository, revision)
        done = run("apply", "--edited-since", revision)
        assert done.output == f"git knows no revision {revision!r}\n" and done.exit_code == 2
    assert not (repository / "x").exists()
    assert "exclude each other" in run("apply", "--edited-since", "HEAD", "--within", "1").output
    monkeypatch.chdir(tmp_path_factory.mktemp("bare"))
    done = run("proof", "--edited-since", "HEAD")
    assert done.exit_code == 2 and "not a git repository" in done.output


def test_no_program_of_the_repository_runs(repository: Path, place, run) -> None:
    place({
        ".gitattributes": "*.py diff=tide filter=tide\n",
        "a.py": OLD.replace("a=1", "a=2"),
        "tide.sh": "#!/bin/sh\ntouch ran\n",
    })
    (repository / "tide.sh").chmod(0o755)
    for key in (
        "diff.tide.command",
        "diff.tide.textconv",
        "diff.external",
        "core.fsmonitor",
        "filter.tide.clean",
        "filter.tide.process",
    ):
        git("config", key, f"{repository}/tide.sh")
    (repository / "ran").unlink(missing_ok=True)
    assert changed_lines(repository, "HEAD")[repository.resolve() / "a.py"] == [(1, 1)]
    assert not (repository / "ran").exists()


LINES = [f"x{n}=[{n},{n}]" for n in range(30)]


@settings(max_examples=15, deadline=None)
@given(st.lists(st.tuples(st.integers(0, 29), st.sampled_from("cdi")), max_size=8))
def test_lines_that_did_not_change_stay(tmp_path_factory, edits) -> None:
    """Lines changed, deleted or put in at random: those of the old text stay byte for byte."""
    from stilo.run.changed import lines_of

    folder = tmp_path_factory.mktemp("lanes")
    new = [[line] for line in LINES]
    for at, kind in edits:
        new[at] = {"c": [f"y{at}=({at},{at})"], "d": [], "i": [LINES[at], "++ z=(1,2)"]}[kind]
    (folder / "a").write_text("\n".join(LINES) + "\n")
    (folder / "b").write_text("".join(f"{line}\n" for lines in new for line in lines))
    command = [
        "git",
        "diff",
        "--no-index",
        "--unified=0",
        "--src-prefix=a/",
        "--dst-prefix=b/",
        "a",
        "b",
    ]
    patch = subprocess.run(command, cwd=folder, capture_output=True, check=False).stdout
    flat = [line for lines in new for line in lines]
    told = {n for first, last in lines_of(patch).get("b", []) for n in range(first, last + 1)}
    assert {flat[n - 1] for n in told} == set(flat) - set(LINES)
