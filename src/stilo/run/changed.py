"""The lines that were changed since a revision, as git tells."""

from __future__ import annotations

import codecs
import os
import re
from collections.abc import Mapping, Sequence
from pathlib import Path

from stilo.run.git import commit_of, git, root_of, without_filters
from stilo.source import LineRange

_NEW_NAME, _HUNK = b"+++ ", re.compile(rb"@@ -\S+ \+(\d+)(?:,(\d+))? @@")


def changed_lines(folder: Path, revision: str) -> Mapping[Path, Sequence[LineRange] | None]:
    """Each file changed since a revision, by its absolute path → its changed lines, None for all.

    Of the repository around a folder; files that are new and not ignored are among them. Lines are those
    of the working copy, from 1. Raises GitFailed.
    """
    root = root_of(folder)
    commit = commit_of(folder, revision)
    options = ("--unified=0", "--no-color", "--no-ext-diff", "--no-textconv", "--no-renames")
    prefixes = ("--src-prefix=a/", "--dst-prefix=b/", "--ignore-submodules")
    patch = git(root, *without_filters(root), "diff", *options, *prefixes, commit, "--")
    found: dict[Path, Sequence[LineRange] | None] = {
        root / name: ranges for name, ranges in lines_of(patch).items()
    }
    others = git(root, "ls-files", "--others", "--exclude-standard", "-z")
    found.update(dict.fromkeys((root / os.fsdecode(n) for n in others.split(b"\0") if n), None))
    return found


def lines_of(patch: bytes) -> dict[str, list[LineRange]]:
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
