"""`stilo adopt`: how to bring a code base into style in commits that can be looked through."""

from __future__ import annotations

import os
from collections.abc import Mapping, Sequence
from pathlib import Path, PurePath
from typing import TYPE_CHECKING

from stilo.cli.counts import summed
from stilo.cli.files import Files
from stilo.cli.options import FAILED, IN_STYLE, Failures, Wanted
from stilo.cli.telling import tell
from stilo.cli.work import Workers, outcomes
from stilo.edits import lines_touched
from stilo.explain.findings import by_setting, count_of
from stilo.records import dataclass
from stilo.run.files import write_new
from stilo.run.git import commit_of, git, root_of

if TYPE_CHECKING:
    from stilo import DocumentResult, Result

#: The list of revisions that blame passes over, under the name by which hosts of repositories find it.
LIST = ".git-blame-ignore-revs"
#: The most changed lines in a commit, unless another number is asked for.
LINES = 1000
#: How many settings are named of a commit, and of all.
SETTINGS, MOST = 2, 10


@dataclass(frozen=True)
class Change:
    """What a file needs: how many lines, and how many places by each setting."""

    path: str
    lines: int
    settings: Mapping[str, int]


def change_of(path: str, result: Result | DocumentResult) -> Change | None:
    """What is to change of a file; None if nothing is."""
    if not result.changed:
        return None
    settings = by_setting(result.findings)
    return Change(path, lines_touched(result.source.raw, result.edits), settings)


def steps_of(changes: Sequence[Change], most: int) -> list[list[Change]]:
    """The changes in commits of at most so many lines, or of one file; files of a folder together."""
    steps: list[list[Change]] = []
    room = 0
    for change in sorted(changes, key=lambda change: (_folder(change), change.path)):
        if not steps or change.lines > room:
            steps.append([])
            room = most
        steps[-1].append(change)
        room -= change.lines
    return steps


def _folder(change: Change) -> str:
    return PurePath(change.path).parent.as_posix()


def plan(files: Files, wanted: Wanted, by: Workers, most: int, step: int | None) -> int:
    """Print the plan, or the files of one of its steps. Returns the exit status. Raises Stopped."""
    failures = Failures()
    found = (change for _, change in outcomes(files, wanted, failures, by, change_of))
    changes = [change for change in found if change is not None]
    steps = steps_of(changes, most)
    if step is not None:
        if step > len(steps):
            tell(f"the plan has {count_of(len(steps), 'commit')}", err=True)
            return FAILED
        for change in steps[step - 1]:
            tell(change.path)
        return FAILED if failures.count else IN_STYLE
    _tell(files, changes, steps, failures, "" if most == LINES else f" --lines {most}")
    return FAILED if failures.count else IN_STYLE


def _tell(
    files: Files,
    changes: Sequence[Change],
    steps: list[list[Change]],
    failures: Failures,
    asked: str,
) -> None:
    lines = sum(change.lines for change in changes)
    kept = files.laid_out - len(changes)
    tell(
        f"to be laid out: {count_of(len(changes), 'file')}, {count_of(lines, 'line')}; "
        f"in style: {kept}; refused: {failures.count}{files.rest()}"
    )
    if not changes:
        return
    tell("")
    tell("Which settings ask for most, and might be chosen otherwise:")
    total = summed(change.settings for change in changes)
    wide = len(str(total.most_common(1)[0][1]))
    for name, count in total.most_common(MOST):
        tell(f"  {count:{wide}}  {name}")
    tell("")
    tell(f"In {count_of(len(steps), 'commit')}:")
    wide = len(str(len(steps)))
    for number, step in enumerate(steps, 1):
        first, last = step[0].path, step[-1].path
        where = first if len(step) == 1 else f"{first} to {last}"
        size = sum(change.lines for change in step)
        often = summed(change.settings for change in step).most_common(SETTINGS)
        most = ", ".join(name for name, _ in often)
        said = f"{count_of(len(step), 'file')}, {count_of(size, 'line')}"
        tell(f"  {number:{wide}}  {where}: {said}; most by {most}")
    tell("")
    tell("For each, commit what this lays out, and then tell blame to pass over the commit:")
    tell(f"  stilo adopt{asked} --step 1 | stilo apply --files-from -")
    tell("  stilo adopt --pass-over HEAD")


def pass_over(revisions: Sequence[str]) -> int:
    """Put commits on the list that blame passes over, and let git use it here. Returns the exit status.

    Raises GitFailed, WriteFailed.
    """
    root = root_of(Path.cwd())
    path = root / LIST
    text = path.read_text(encoding="utf-8") if path.is_file() else ""
    added = 0
    for commit in (commit_of(root, revision) for revision in revisions):
        if commit in text:
            continue
        subject = git(root, "log", "-1", "--format=%s", commit).decode("utf-8", "replace").strip()
        if text and not text.endswith("\n"):
            text += "\n"
        text += f"# {subject}\n{commit}\n"
        added += 1
    if added:
        write_new(path, text.encode())
    git(root, "config", "--local", "blame.ignoreRevsFile", LIST)
    where = os.path.relpath(path)
    tell(f"{where}: {count_of(added, 'commit')} added; git blame passes them over here", err=True)
    return IN_STYLE
