"""Lay out what each commit changed, and no more: the last commits of a repository, one after the other.

    python bench/commits.py FOLDER [FOLDER …]        # versions of a package, oldest first: a commit each
    python bench/commits.py --repository FOLDER --commits 50

At each commit a copy is laid out by `stilo apply --edited-since` its parent. Then each Python file must be the same
program, told by `ast` without Stilo; no line may differ that no changed statement stands on, as `ast` and `diff`
have it; files that the commit left alone must be the same byte for byte; and a second run must change nothing.
"""

from __future__ import annotations

import argparse
import difflib
import os
import shutil
import subprocess
import sys
import tempfile
from collections import Counter
from pathlib import Path

from programs import difference, is_valid
from ranges import python_lines

ROOT = Path(__file__).parent.parent
WHO = ("-c", "user.name=Skerry", "-c", "user.email=quay@example.org", "-c", "gc.auto=0")


def git(folder: Path, *arguments: str) -> str:
    """What a command of git prints."""
    return subprocess.run(
        ["git", *WHO, *arguments], cwd=folder, check=True, capture_output=True, text=True
    ).stdout


def repository_of(versions: list[Path], place: Path) -> Path:
    """A repository with a commit for each folder."""
    place.mkdir()
    git(place, "init", "-q")
    for version in versions:
        for entry in place.iterdir():
            if entry.name != ".git":
                shutil.rmtree(entry) if entry.is_dir() else entry.unlink()
        shutil.copytree(version, place, dirs_exist_ok=True, symlinks=True)
        git(place, "add", "-A", "-f")
        git(place, "commit", "-q", "--allow-empty", "-m", version.name)
    return place


def apply(folder: Path) -> str:
    """The last line that a run says, about what was changed since the parent."""
    done = subprocess.run(
        [sys.executable, "-m", "stilo", "apply", "--edited-since", "HEAD~1", "--style", "default"],
        cwd=folder,
        env={**os.environ, "PYTHONPATH": str(ROOT / "src"), "STILO_CACHE": "off"},
        capture_output=True,
        text=True,
        check=False,
    )
    return done.stderr.splitlines()[-1] if done.stderr else ""


def changed_lines(old: bytes, new: bytes) -> set[int]:
    """The lines of the new text that are not in the old one, from 1."""
    matcher = difflib.SequenceMatcher(None, old.split(b"\n"), new.split(b"\n"), autojunk=False)
    found: set[int] = set()
    for kind, _, _, first, last in matcher.get_opcodes():
        if kind != "equal":
            found.update(range(first + 1, last + 1))
    return found


def outside(old: bytes | None, new: bytes, result: bytes) -> int:
    """A line that was changed though no statement that the commit changed stands on it, or 0."""
    if old is None:
        return 0  # a new file is laid out whole
    asked = python_lines(new, changed_lines(old, new))
    lines, after = new.split(b"\n"), result.split(b"\n")
    matcher = difflib.SequenceMatcher(None, lines, after, autojunk=False)
    for kind, first, last, _, _ in matcher.get_opcodes():
        if kind == "equal":
            continue
        # Blank lines belong to the statement after them, or to the one they follow.
        near = {first, last + 1} | set(range(first + 1, last + 1))
        own = {n for n in range(first + 1, last + 1) if lines[n - 1].strip()}
        if own - asked or (not own and not near & asked):
            return min(own - asked, default=first + 1)
    return 0


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__.split("\n")[0])
    parser.add_argument("folder", type=Path, nargs="*")
    parser.add_argument("--repository", type=Path)
    parser.add_argument("--commits", type=int, default=50)
    arguments = parser.parse_args()
    counts: Counter[str] = Counter()
    with tempfile.TemporaryDirectory() as home:
        copy = Path(home, "copy")
        if arguments.repository is None:
            repository_of(arguments.folder, copy)
        else:
            git(Path(home), "clone", "-q", str(arguments.repository.resolve()), str(copy))
        commits = git(copy, "rev-list", "--first-parent", "HEAD").split()
        for commit in commits[:min(arguments.commits, len(commits) - 1)]:
            git(copy, "checkout", "-q", "-f", commit)
            before = {
                p: p.read_bytes() for p in copy.rglob("*") if p.is_file() and ".git" not in p.parts
            }
            counts["commits"] += 1
            said = apply(copy)
            touched = set(git(copy, "diff", "--name-only", "-z", "HEAD~1", commit).split("\0"))
            for path, data in before.items():
                name, result = path.relative_to(copy).as_posix(), path.read_bytes()
                if name not in touched:
                    if result != data:
                        counts["FILES CHANGED THAT THE COMMIT LEFT ALONE"] += 1
                        print(commit, name)
                    continue
                if path.suffix != ".py" or not is_valid("python", data):
                    continue
                counts["changed files"] += 1
                counts["laid out otherwise"] += result != data
                if wrong := difference("python", data, result):
                    counts["OTHER PROGRAMS"] += 1
                    print(commit, name, wrong)
                there = subprocess.run(
                    ["git", "show", f"HEAD~1:{name}"], cwd=copy, capture_output=True, check=False
                )
                old = None if there.returncode else there.stdout
                if line := outside(old, data, result):
                    counts["FILES WITH A LINE OUTSIDE"] += 1
                    print(f"{commit} {name}:{line}")
            again = apply(copy)
            if not again.startswith("laid out: 0;"):
                counts["UNSETTLED COMMITS"] += 1
                print(commit, again)
            counts["refused"] += int(said.partition("refused: ")[2].split(";")[0] or 0)
    for name, count in sorted(counts.items()):
        print(f"{count:8}  {name}")
    return 1 if any(name.isupper() for name in counts) else 0


if __name__ == "__main__":
    sys.exit(main())
