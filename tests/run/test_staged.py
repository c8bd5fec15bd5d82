"""What is staged in git, whatever lies in the working copy."""

from __future__ import annotations

from pathlib import Path

import pytest

from tests.run.test_changed import OLD, git, repository  # noqa: F401

NEW = OLD.replace("b=2", "b=[2,3]")


def staged(name: str) -> str:
    import subprocess

    return (
        subprocess.run(["git", "show", f":{name}"], check=True, capture_output=True).stdout.decode()
    )


def test_what_is_staged_counts_and_not_what_the_file_holds(repository: Path, place, run) -> None:
    place({"a.py": NEW, "deep/b.py": NEW})
    git("add", "a.py")
    place({"a.py": NEW.replace("c=3", "c=(3)")})
    told = run("proof", "--staged")
    assert told.exit_code == 1 and "in 1 of 1 file" in told.output
    done = run("apply", "--staged")
    assert done.exit_code == 0, done.output
    assert "a.py: staged; the file itself holds something else and stays as it is" in done.output
    assert staged("a.py") == OLD.replace("b=2", "b = [2, 3]")
    assert (repository / "a.py").read_text() == NEW.replace("c=3", "c=(3)")
    assert (repository / "deep/b.py").read_text() == NEW and staged("deep/b.py") == OLD
    assert run("proof", "--staged").exit_code == 0


def test_a_file_that_holds_what_is_staged_goes_along(repository: Path, place, run) -> None:
    place({"a.py": NEW, "new.py": OLD, "tides.txt": "x"})
    (repository / "gone.py").unlink()
    git("add", ".")
    done = run("apply", "--staged", "--jobs", "2")
    assert done.exit_code == 0 and "1 in no language" in done.output
    assert (repository / "a.py").read_text() == staged("a.py") == OLD.replace("b=2", "b = [2, 3]")
    assert (repository / "new.py").read_text() == staged("new.py")
    assert staged("new.py").startswith("a = 1\n")  # a new file as a whole
    git("commit", "-qm", "Add b")
    assert run("apply", "--staged").output.startswith("laid out: 0; in style before: 0")


def test_a_staged_file_that_is_gone_from_the_working_copy(repository: Path, place, run) -> None:
    place({"new.py": OLD})
    git("add", ".")
    (repository / "new.py").unlink()
    done = run("apply", "--staged")
    assert staged("new.py").startswith("a = 1\n") and not (repository / "new.py").exists()
    assert done.exit_code == 2 and "new.py: no such file" in done.output


def test_folders_skip_modes_and_links(repository: Path, place, run, monkeypatch) -> None:
    place({"deep/x.py": OLD, "y.py": OLD, "z.py": OLD, "stilo.toml": 'skip = ["z.py"]\n'})
    (repository / "y.py").chmod(0o755)
    (repository / "link.py").symlink_to("y.py")
    git("add", ".")
    monkeypatch.chdir(repository / "deep")
    assert "in 1 of 1 file not in style" in run("proof", "--staged", ".").output
    monkeypatch.chdir(repository)
    told = run("proof", "--staged")
    assert "in 2 of 3 files" in told.output and "1 skipped" in told.output  # stilo.toml among them
    assert "laid out: 2; in style before: 1" in run("apply", "--staged").output
    import subprocess

    entry = subprocess.run(["git", "ls-files", "--stage", "y.py"], capture_output=True).stdout
    assert entry.startswith(b"100755")


def test_what_cannot_be_laid_out_stays_staged(repository: Path, place, run) -> None:
    place({"bad.py": "x = (\n", "a.py": NEW})
    git("add", ".")
    done = run("apply", "--staged")
    assert done.exit_code == 2 and "bad.py:1:6: syntax error" in done.output
    assert staged("bad.py") == "x = (\n" and "b = [2, 3]" in staged("a.py")


@pytest.mark.parametrize("options", [("--within", "1"), ("--edited-since", "HEAD"), ("-",)])
def test_what_does_not_go_together(repository: Path, run, options: tuple[str, ...]) -> None:
    done = run("proof", "--staged", *options)
    assert done.exit_code == 2 and len(done.output.splitlines()) == 1


def test_outside_of_a_repository(place, run) -> None:
    place({})
    done = run("proof", "--staged")
    assert done.exit_code == 2 and "not a git repository" in done.output
