"""Finding the files that a run is about: named ones, those in folders, and those that patterns name.

No more than their first lines is read of the files themselves. Links within a folder are not followed, so
that none leads in a circle or out of what was asked for.
"""

from __future__ import annotations

import os
import stat
from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import field
from glob import glob, has_magic
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple

from stilo.errors import UnknownLanguage, UnreadableSource
from stilo.reading import MOST_SETTINGS, head_of, read_file
from stilo.records import dataclass
from stilo.source import LineRange

if TYPE_CHECKING:
    from pathspec import GitIgnoreSpec

    from stilo.style.resolve import Styles

#: Folders that hold what others wrote or what was made by a program, unless they are named themselves.
VENDORED = frozenset(
    ["__pycache__", "node_modules", "site-packages", "third_party", "vendor", "vendored"]
)
#: Why files in a folder are passed over.
NO_LANGUAGE, IGNORED, SKIPPED, LINK = "in no language", "ignored by git", "skipped", "links"
SAME, GENERATED = "not changed", "generated"
#: In how many bytes and lines at the start of a file it may say that a program made it.
HEAD, LINES = 1000, 5
#: Where git keeps patterns of a repository that are not part of it.
_EXCLUDE = Path(".git", "info", "exclude")
_IGNORE = ".gitignore"


class Target(NamedTuple):
    """A file to look at. lines: the statements in these alone, or None for all. data: the text that counts, if
    it is not what the file holds."""

    path: str
    lines: Sequence[LineRange] | None = None
    data: bytes | None = None


@dataclass
class Finder:
    """Finds files, each once, and counts what it passes over.

    styles: say what language a file is in, and which are skipped. passed_over: how many files, by the
    reason. faults: folders that cannot be looked into. changed: the only files to find, by their absolute
    paths, with their lines; None: any.
    """

    styles: Styles
    changed: Mapping[Path, Sequence[LineRange] | None] | None = None
    passed_over: Counter[str] = field(default_factory=Counter)
    faults: list[UnreadableSource] = field(default_factory=list)
    _seen: set[str] = field(default_factory=set)
    _ignoring: dict[str, list[tuple[Path, GitIgnoreSpec]]] = field(default_factory=dict)
    _ignores: dict[Path, list[tuple[Path, GitIgnoreSpec]]] = field(default_factory=dict)

    def find(self, paths: Sequence[str]) -> Iterator[Target]:
        """The files that some paths stand for: files, folders, or patterns such as `src/**/*.py`.

        In the order of the paths, those of a folder by name.
        """
        for path in paths:
            if os.path.isdir(path):
                yield from self._in_folder(path)
            elif has_magic(path) and not os.path.lexists(path):
                found = sorted(glob(path, recursive=True))
                if not found:
                    self.faults.append(UnreadableSource(path, "no file fits this pattern"))
                for one in found:
                    if os.path.isdir(one):
                        continue
                    yield from self.offer(one)
            else:
                yield from self._new(path)

    def _new(self, path: str) -> Iterator[Target]:
        key = os.path.abspath(path)
        if key in self._seen:
            return
        self._seen.add(key)
        if self.changed is None:
            yield Target(path)
        elif (real := Path(os.path.realpath(key))) in self.changed:
            yield Target(path, self.changed[real])
        else:
            self.passed_over[SAME] += 1

    def _in_folder(self, folder: str) -> Iterator[Target]:
        """The files in a folder, without recursion, so that no depth is too deep."""
        waiting = [folder]
        while waiting:
            current = waiting.pop()
            try:
                with os.scandir(current) as entries:
                    found = sorted(entries, key=lambda entry: entry.name)
            except OSError as error:
                self.faults.append(UnreadableSource(current, f"cannot be listed: {error.strerror}"))
                continue
            folders = []
            for entry in found:
                path = entry.path.removeprefix(f".{os.sep}")
                if entry.is_symlink():
                    self.passed_over[LINK] += 1
                elif entry.is_dir():
                    if not (entry.name.startswith(".") or entry.name in VENDORED):
                        if not self._is_ignored(path, True):
                            folders.append(path)
                elif stat.S_ISREG(entry.stat(follow_symlinks=False).st_mode):
                    yield from self.offer(path)
            waiting += reversed(folders)

    def offer(self, path: str) -> Iterator[Target]:
        """A file that nobody named, if it is one to look at."""
        try:
            skipped = self.styles.skipped(path)
            self.styles.language_name(path)
        except UnknownLanguage:
            self.passed_over[NO_LANGUAGE] += 1
            return
        if skipped:
            self.passed_over[SKIPPED] += 1
        elif self._is_ignored(path, False):
            self.passed_over[IGNORED] += 1
        elif self._is_generated(path):
            self.passed_over[GENERATED] += 1
        else:
            yield from self._new(path)

    def _is_generated(self, path: str) -> bool:
        """Whether one of the first lines of a file says that a program made it."""
        lines = head_of(path, HEAD).split(b"\n")[:LINES]
        head = b"\n".join(lines).decode("utf-8", "replace").lower()
        return any(mark in head for mark in self.styles.marks_of_generated(path))

    # What git ignores

    def _is_ignored(self, path: str, is_folder: bool) -> bool:
        """Whether git ignores a path in a folder that it does not ignore, as gitignore(5) has it."""
        home = os.path.dirname(path)
        if home not in self._ignoring:
            self._ignoring[home] = self._patterns(Path(os.path.abspath(home)))
        patterns = self._ignoring[home]
        whole = Path(os.path.abspath(path)) if patterns else Path()
        for folder, spec in reversed(patterns):
            inside = whole.relative_to(folder).as_posix()
            found = spec.check_file(f"{inside}/" if is_folder else inside).include
            if found is not None:
                return found
        return False

    def _patterns(self, folder: Path) -> list[tuple[Path, GitIgnoreSpec]]:
        """The patterns that hold in a folder of a repository, with where each begins, the weaker first."""
        if folder in self._ignores:
            return self._ignores[folder]
        way: list[Path] = []
        above = folder
        while (
            above not in self._ignores and not (above / ".git").exists() and above.parent != above
        ):
            way.append(above)
            above = above.parent
        known = self._ignores.get(above)
        if known is None:
            known = []
            if (above / ".git").exists():
                for name in (_EXCLUDE, Path(_IGNORE)):
                    known += self._read(above, above / name)
                self._ignores[above] = known
            else:  # no repository
                self._ignores.update(dict.fromkeys([above, *way], known))
                return known
        for below in reversed(way):
            known = self._ignores[below] = [*known, *self._read(below, below / _IGNORE)]
        return known

    def _read(self, folder: Path, file: Path) -> list[tuple[Path, GitIgnoreSpec]]:
        """The patterns of a file. What cannot be read, or is no pattern, ignores nothing."""
        from pathspec import GitIgnoreSpec

        try:
            lines = read_file(file, MOST_SETTINGS).decode("utf-8", "replace").splitlines()
            return [(folder, GitIgnoreSpec.from_lines(lines))]
        except (OSError, ValueError):
            return []
