"""What is staged in git, which may be other than what lies in the working copy."""

from __future__ import annotations

import os
from collections.abc import Iterable, Sequence
from pathlib import Path
from typing import NamedTuple

from stilo.reading import MOST_SOURCE
from stilo.run.changed import lines_of
from stilo.run.git import GitFailed, git, root_of
from stilo.source import LineRange

#: The modes of regular files in git; links and other repositories have others.
_FILES = ("100644", "100755")


class Staged(NamedTuple):
    """A staged file: its absolute path, the lines that are staged (None: all), the staged text, its mode."""

    path: Path
    lines: Sequence[LineRange] | None
    data: bytes
    mode: str


def staged_files(folder: Path) -> list[Staged]:
    """The files of which something is staged, of the repository around a folder, by path.

    Only those with text that is new or changed; a file that was not there before counts as a whole. Raises
    GitFailed.
    """
    root = root_of(folder)
    found: list[Staged] = []
    lines = lines_of(git(root, *_DIFF, "--unified=0", "--"))
    entries = git(root, *_DIFF, "--raw", "-z", "--no-abbrev", "--").split(b"\0")
    for said, name in zip(entries[::2], entries[1::2]):
        _, mode, _, blob, status = said.decode().split()
        where = os.fsdecode(name)
        if mode not in _FILES or (status != "A" and where not in lines):
            continue
        data = git(root, "cat-file", "blob", blob)
        if len(data) > MOST_SOURCE:
            raise GitFailed(f"{where}: is larger than {MOST_SOURCE >> 20} MB")
        found.append(Staged(root / where, None if status == "A" else lines[where], data, mode))
    return found


#: Of what is staged against the latest commit, by git alone.
_DIFF = (
    "diff",
    "--cached",
    "--no-color",
    "--no-ext-diff",
    "--no-textconv",
    "--no-renames",
    "--src-prefix=a/",
    "--dst-prefix=b/",
    "--ignore-submodules",
)


def stage(folder: Path, files: Iterable[tuple[Staged, bytes]]) -> None:
    """Stage other texts for files that are staged, all at once. Raises GitFailed."""
    root = root_of(folder)
    lines = []
    for file, data in files:
        blob = git(root, "hash-object", "-w", "--stdin", text=data).decode().strip()
        name = os.fsencode(file.path.relative_to(root).as_posix())
        lines.append(f"{file.mode} {blob}\t".encode() + name + b"\0")
    if lines:
        git(root, "update-index", "-z", "--index-info", text=b"".join(lines))
