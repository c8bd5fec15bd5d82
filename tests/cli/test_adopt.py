"""Bringing a code base into style in commits, and keeping it there."""

from __future__ import annotations

import subprocess
from pathlib import Path

from hypothesis import given
from hypothesis import strategies as st

from stilo.cli.adopt import Change, steps_of
from tests.run.test_changed import git

LINES = "".join(f"lane{n}={n}\n" for n in range(10))


def start(place) -> Path:
    folder: Path = place({
        "app/a.py": LINES,
        "app/b.py": LINES,
        "lib/c.py": LINES,
        "lib/d.py": "x = 1\n",
        "bad.py": "(\n",
    })
    git("init", "-q", "-b", "main")
    git("config", "user.name", "Skerry")
    git("config", "user.email", "quay@example.org")
    git("add", ".")
    git("commit", "-qm", "Begin")
    return folder


def test_step_by_step_until_nothing_is_left(place, run) -> None:
    folder = start(place)
    told = run("adopt", "--lines", "20")
    assert told.exit_code == 2  # for the file that cannot be read
    assert "to be laid out: 3 files, 30 lines; in style: 1; refused: 1" in told.stdout
    assert (
        "In 2 commits:" in told.stdout
        and "1  app/a.py to app/b.py: 2 files, 20 lines" in told.stdout
    )
    assert "30  binary-operator.before = space" in told.stdout
    (folder / "bad.py").unlink()
    for step in (["app/a.py", "app/b.py"], ["lib/c.py"]):
        names = run("adopt", "--lines", "20", "--step", "1")
        assert names.stdout.split() == step and names.exit_code == 0
        assert run("apply", "--files-from", "-", text=names.stdout.encode()).exit_code == 0
        git("commit", "-qam", f"Lay out {step[0]}")
        assert run("adopt", "--pass-over", "HEAD").exit_code == 0
        git("add", ".")
        git("commit", "-qm", "Let blame pass it over")
    assert run("adopt").stdout.startswith(
        "to be laid out: no file, no line; in style: 4; refused: 0"
    )
    assert run("adopt", "--step", "1").exit_code == 2
    listed = (folder / ".git-blame-ignore-revs").read_text().splitlines()
    assert listed[0] == "# Lay out app/a.py" and len(listed) == 4
    blame = subprocess.run(["git", "blame", "-s", "app/a.py"], check=True, capture_output=True)
    first = subprocess.run(["git", "rev-list", "--max-parents=0", "HEAD"], capture_output=True)
    assert blame.stdout.count(first.stdout[:7]) == 10  # each line is still the first commit's


def test_the_list_grows_by_each_commit_once(place, run) -> None:
    folder = start(place)
    (folder / ".git-blame-ignore-revs").write_text("# by hand, without a line end")
    assert "1 commit added" in run("adopt", "--pass-over", "HEAD").output
    assert "no commit added" in run("adopt", "--pass-over", "main").output
    text = (folder / ".git-blame-ignore-revs").read_text()
    assert text.startswith("# by hand, without a line end\n# Begin\n") and text.count("\n") == 3
    before = text
    assert run("adopt", "--pass-over", "no-such").exit_code == 2
    assert (folder / ".git-blame-ignore-revs").read_text() == before


@given(
    st.lists(st.tuples(st.sampled_from("abc"), st.integers(1, 30)), max_size=20), st.integers(1, 40)
)
def test_each_file_is_in_one_step_and_steps_are_small(files, most: int) -> None:
    changes = [Change(f"{folder}/{n}.py", lines, {}) for n, (folder, lines) in enumerate(files)]
    steps = steps_of(changes, most)
    assert sorted(c.path for step in steps for c in step) == sorted(c.path for c in changes)
    for step in steps:
        assert sum(change.lines for change in step) <= most or len(step) == 1
    for one, other in zip(steps, steps[1:]):  # none could have been one with the next
        assert sum(change.lines for change in one) + other[0].lines > most


def test_a_commit_is_stopped_by_what_is_staged(place, run) -> None:
    folder = start(place)
    done = run("hook")
    assert done.exit_code == 0 and ".git/hooks/pre-commit: written" in done.output
    assert run("hook").exit_code == 0  # once more changes nothing
    (folder / "lib" / "d.py").write_text("x=2\n")
    commit = ["git", "commit", "-qam", "Change x"]
    stopped = subprocess.run(commit, capture_output=True, text=True, check=False)
    assert stopped.returncode and "lib/d.py" in stopped.stdout + stopped.stderr
    assert run("apply", "lib/d.py").exit_code == 0
    subprocess.run(commit, capture_output=True, check=True)


def test_a_hook_of_somebody_else_stays(place, run) -> None:
    folder = start(place)
    path = folder / ".git" / "hooks" / "pre-commit"
    path.parent.mkdir(exist_ok=True)
    path.write_text("#!/bin/sh\n")
    done = run("hook")
    assert done.exit_code == 2 and "stilo proof --staged" in done.output
    assert path.read_text() == "#!/bin/sh\n"


def test_outside_of_a_repository(place, run) -> None:
    place({})
    assert run("hook").exit_code == 2 and run("adopt", "--pass-over", "HEAD").exit_code == 2
