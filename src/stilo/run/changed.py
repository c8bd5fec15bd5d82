"""The lines that were changed since a revision, as git tells by its public commands.

Nothing that a repository configures is run: no external programs for differences, no text conversion, no
filters.
"""

from __future__ import annotations

import codecs
import os
import re
import subprocess
from collections.abc import Mapping, Sequence
from pathlib import Path

from stilo.errors import StiloError
from stilo.source import LineRange

#: The most seconds that git may take for an answer.
PATIENCE = 120
_NEW_NAME, _HUNK = b"+++ ", re.compile(rb"@@ -\S+ \+(\d+)(?:,(\d+))? @@")
_SAFE = ("-c", "core.fsmonitor=false", "-c", "core.quotepath=off", "-c", "diff.external=")


class NoChanges(StiloError):
    """Git cannot tell what was changed: there is no git, no repository or no such revision."""


def changed_lines(folder: Path, revision: str) -> Mapping[Path, Sequence[LineRange] | None]:
    """Each file changed since a revision, by its absolute path → its changed lines, None for all.

    Of the repository around a folder; files that are new and not ignored are among them. Lines are those
    of the working copy, from 1. Raises NoChanges.
    """
    root = Path(os.fsdecode(_git(folder, "rev-parse", "--show-toplevel").rstrip(b"\n")))
    name = f"{revision}^{{commit}}"
    try:
        commit = _git(folder, "rev-parse", "--verify", "--quiet", "--end-of-options", name)
    except NoChanges as error:
        raise NoChanges(f"git knows no revision {revision!r}") from error
    options = ("--unified=0", "--no-color", "--no-ext-diff", "--no-textconv", "--no-renames")
    prefixes = ("--src-prefix=a/", "--dst-prefix=b/", "--ignore-submodules")
    whole = ("diff", *options, *prefixes, commit.decode().strip(), "--")
    patch = _git(root, *_without_filters(root), *whole)
    found: dict[Path, Sequence[LineRange] | None] = {
        root / name: ranges
        for name, ranges in _ranges(patch).items()
    }
    others = _git(root, "ls-files", "--others", "--exclude-standard", "-z")
    found.update(dict.fromkeys((root / os.fsdecode(n) for n in others.split(b"\0") if n), None))
    return found


def _without_filters(root: Path) -> list[str]:
    """Options by which git runs none of the filters that the repository itself configures."""
    asked = (
        "config",
        "--local",
        "--name-only",
        "-z",
        "--get-regexp",
        r"^filter\..*\.(clean|process)$"
    )
    try:
        names = _git(root, *asked).split(b"\0")
    except NoChanges:
        return []  # there are none
    return [word for name in names if name for word in ("-c", f"{os.fsdecode(name)}=")]


def _ranges(patch: bytes) -> dict[str, list[LineRange]]:
    """The new lines of each file in a patch without context, by its name from the root."""
    found: dict[str, list[LineRange]] = {}
    ranges: list[LineRange] = []
    rest = 0  # lines of a hunk that are still to come
    for line in patch.split(b"\n"):
        if rest and line[:1] in b"+-\\":
            rest -= line[:1] != b"\\"
            continue
        if line.startswith(_NEW_NAME):
            name = _name(line[len(_NEW_NAME):])
            ranges = found.setdefault(name, []) if name else []
        elif hunk := _HUNK.match(line):
            first, count = int(hunk[1]), 1 if hunk[2] is None else int(hunk[2])
            rest = count + _old_count(line)
            if count:
                ranges.append((first, first + count - 1))
    return {name: ranges for name, ranges in found.items() if ranges}


def _old_count(hunk: bytes) -> int:
    """How many lines of the old text a hunk holds."""
    old = hunk.split(b" ", 2)[1]
    return int(old.partition(b",")[2]) if b"," in old else 1


def _name(said: bytes) -> str:
    """A file's name as a patch has it: after `b/`, in quotes where it holds odd characters."""
    said = said.rstrip(b"\t")
    if said.startswith(b'"'):
        said = bytes(codecs.escape_decode(said[1:-1])[0])
    return os.fsdecode(said.removeprefix(b"b/")) if said.startswith(b"b/") else ""


def _git(folder: Path, *arguments: str) -> bytes:
    """What a command of git prints. Raises NoChanges."""
    environment = {**os.environ, "GIT_OPTIONAL_LOCKS": "0", "LC_ALL": "C"}
    command = ["git", *_SAFE, *arguments]
    try:
        done = subprocess.run(
            command, cwd=folder, env=environment, capture_output=True, timeout=PATIENCE, check=False
        )
    except FileNotFoundError as error:
        raise NoChanges("git is not installed, so nobody knows what was changed") from error
    except subprocess.TimeoutExpired as error:
        raise NoChanges(f"git took more than {PATIENCE} seconds") from error
    if done.returncode:
        said = done.stderr.decode("utf-8", "replace").strip().removeprefix("fatal: ").splitlines()
        raise NoChanges(f"git: {said[0] if said else 'it failed and did not say why'}")
    return done.stdout
