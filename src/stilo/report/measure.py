"""What is measured of files, as they are and as they would be, and of commits."""

from __future__ import annotations

import os
from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from datetime import UTC, datetime
from hashlib import blake2b
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple

from stilo.calls import reformat_styled
from stilo.edits import lines_touched
from stilo.errors import StiloError, UnknownLanguage
from stilo.explain.findings import by_setting
from stilo.records import dataclass
from stilo.run.git import git, root_of
from stilo.style.resolve import Styles
from stilo.width import display_width

if TYPE_CHECKING:
    from stilo.embed.segments import DocumentResult
    from stilo.result import Result

#: Lines that are wider count as this wide.
WIDEST = 200


@dataclass(frozen=True)
class Measured:
    """Of a file: its lines, how many of them change, places by setting, and lines by width before and after.
    limit: the line width of its style."""

    path: str
    lines: int
    changed: int
    settings: Mapping[str, int]
    before: Mapping[int, int]
    after: Mapping[int, int]
    limit: int


class Moment(NamedTuple):
    """A commit: when it was made, and of the files looked at how many lines there were, how many in style."""

    when: datetime
    commit: str
    lines: int
    in_style: int


def measured(path: str, result: Result | DocumentResult) -> Measured:
    """Measure a file and its result."""
    results = result.results
    width = int(results[0].values["width"]) if results else 0
    before, after = result.source.data.decode(), result.text
    return Measured(
        path,
        len(before.splitlines()),
        lines_touched(result.source.raw, result.edits) if result.changed else 0,
        by_setting(result.findings),
        _widths(before),
        _widths(after) if result.changed else _widths(before),
        width,
    )


def _widths(text: str) -> Counter[int]:
    """How many lines there are of each width, in columns; blank lines left out."""
    return Counter(
        min(WIDEST, len(line) if line.isascii() else display_width(line))
        for line in (line.expandtabs(4) for line in text.splitlines())
        if line
    )


def history(folder: Path, styles: Styles, most_commits: int, most_files: int) -> Iterator[Moment]:
    """How much of a code base was in its present style, at commits evenly spread over its history.

    folder: what is looked at of its repository. most_files: of each commit; the same files as far as there
    are more. The oldest commit first. Raises GitFailed.
    """
    root = root_of(folder)
    inside = os.path.relpath(folder.resolve(), root.resolve())
    log = git(root, "log", "--first-parent", "--format=%H %ct", "--", inside).decode().split("\n")
    commits = [line.split() for line in log if line][::-1]
    known: dict[tuple[str, str], tuple[int, int]] = {}
    for commit, seconds in _spread(commits, most_commits):
        blobs = _blobs(root, commit, inside, styles)
        chosen = sorted(blobs, key=lambda blob: blake2b(os.fsencode(blob[0])).digest())[:most_files]
        lines = in_style = 0
        for path, blob in chosen:
            key = (blob, os.path.splitext(path)[1])
            if key not in known:
                known[key] = _of_blob(root, root / path, blob, styles)
            lines += known[key][0]
            in_style += known[key][1]
        yield Moment(datetime.fromtimestamp(int(seconds), UTC), commit, lines, in_style)


def _spread(commits: Sequence[list[str]], most: int) -> list[list[str]]:
    """So many of them at most, the first and the last among them."""
    if len(commits) <= most:
        return list(commits)
    last = len(commits) - 1
    return [commits[round(number * last / (most - 1))] for number in range(most)]


def _blobs(root: Path, commit: str, inside: str, styles: Styles) -> list[tuple[str, str]]:
    """The files of a commit that are in some language, with their texts' names in git."""
    found = []
    for entry in git(root, "ls-tree", "-r", "-z", commit, "--", inside).split(b"\0"):
        if not entry:
            continue
        head, name = entry.split(b"\t", 1)
        mode, _, blob = head.decode().split()
        path = os.fsdecode(name)
        if mode.startswith("100") and not styles.skipped(root / path):
            try:
                styles.language_name(root / path)
            except UnknownLanguage:
                continue
            found.append((path, blob))
    return found


def _of_blob(root: Path, path: Path, blob: str, styles: Styles) -> tuple[int, int]:
    """Lines of a text, and how many of them are in style; none of one that cannot be laid out."""
    data = git(root, "cat-file", "blob", blob)
    try:
        result = reformat_styled(data, styles.of(path), name=str(path))
    except StiloError:
        return 0, 0
    lines = len(data.splitlines())
    return lines, lines - min(lines, lines_touched(result.source.raw, result.edits))
