"""Which modules are the project's own: found from the folders around a file."""

from __future__ import annotations

import os
from collections.abc import Mapping, Sequence
from functools import cached_property
from pathlib import Path

from stilo.order.groups import Known

#: What a folder holds where a project begins.
MARKS = ("stilo.toml", ".git", ".hg", ".svn")
#: A folder within a project that sources may stand in, besides those around the file.
SOURCES = "src"


class Project:
    """The folders in which modules of a file's own project may be.

    These are the file's folder and those around it, up to the one where the project begins, each
    with its folder `src`; of a file in no project its own folder alone.
    reads_files: what other files hold had a say, too.
    """

    def __init__(self, file: Path) -> None:
        self.file = file.absolute()
        self.folder = self.file.parent
        self.reads_files = False
        self._listed: dict[Path, Mapping[str, bool]] = {}

    @cached_property
    def folders(self) -> tuple[Path, ...]:
        """The folders, the nearest first."""
        around = [self.folder, *self.folder.parents]
        for number, folder in enumerate(around):
            if any((folder / mark).exists() for mark in MARKS):
                inside = around[:number + 1]
                return tuple(f for folder in inside for f in (folder, folder / SOURCES))
        return (self.folder,)

    @property
    def root(self) -> Path:
        """The folder where the project begins, or the file's own."""
        return self.folders[-1] if len(self.folders) == 1 else self.folders[-2]

    def finder(self, suffixes: Sequence[str], is_whole: bool) -> Known:
        """Whether a module is found in these folders, as a file with one of some endings or a folder.

        is_whole: the whole path of a module, or what it is in, must be there; else its first word.
        """

        def is_project(path: str) -> bool:
            words = path.strip(".").split(".")
            tried = [words, words[:-1]] if is_whole else [words[:1]]
            return any(
                self._holds(folder, way, suffixes)
                for way in tried
                if way and (len(way) > 1 or not is_whole)
                for folder in self.folders
            )

        return is_project

    def _holds(self, folder: Path, way: Sequence[str], suffixes: Sequence[str]) -> bool:
        for word in way[:-1]:
            if word not in self._names(folder):
                return False
            folder = folder / word
        names = self._names(folder)
        if any(f"{way[-1]}{suffix}" in names for suffix in suffixes):
            return True
        return (
            way[-1] in names
            and any(
                is_folder or name.endswith(tuple(suffixes))
                for name, is_folder in self._names(folder / way[-1]).items()
            )
        )

    def _names(self, folder: Path) -> Mapping[str, bool]:
        if folder not in self._listed:
            self._listed[folder] = entries_of(folder)
        return self._listed[folder]

    @property
    def listed(self) -> Mapping[Path, Mapping[str, bool]]:
        """The folders whose entries had a say so far, with these entries."""
        return self._listed


def entries_of(folder: Path) -> Mapping[str, bool]:
    """What a folder holds, by name: whether it is a folder. Of what cannot be listed, nothing."""
    try:
        with os.scandir(folder) as entries:
            return {entry.name: entry.is_dir() for entry in entries}
    except OSError:
        return {}
