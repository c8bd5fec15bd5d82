"""The catalogue: which names a module offers, found without running anything of it.

From the project's own sources, from folders of sources that are known beside a sheet, and from
archives that code beside a sheet can read. What is read off sources is read by the sheet itself.
"""

from __future__ import annotations

import os
import re
from collections.abc import Iterator, Sequence
from itertools import islice
from pathlib import Path
from typing import TYPE_CHECKING

from stilo.errors import StiloError
from stilo.order.project import Project
from stilo.reading import MOST_SOURCE, read_file
from stilo.sheet.marks import Marks
from stilo.source import Source
from stilo.tree.flat import Tree

if TYPE_CHECKING:
    from stilo.language import Language

#: Values of the property `offers`: a module's names are files in its folder, or stand in its file.
FILES, NAMES = "files", "names"
#: In place of these: all that a folder's own files know of each other.
HOME = "home"
#: How deep a module may pass on what it has by a star from another.
DEPTH = 8


#: The most entries of folders that are looked through for one project.
MOST = 50_000


def files_below(root: Path, patterns: Sequence[str]) -> Iterator[str]:
    """The files and folders below a folder that patterns name, in order; links are not followed.

    patterns: as in a list of ignored files. What leads out of the folder names nothing.
    """
    if not patterns:
        return
    from pathspec import GitIgnoreSpec

    try:
        spec = GitIgnoreSpec.from_lines(f"/{pattern.lstrip('/')}" for pattern in patterns)
    except (ValueError, re.error):
        return
    seen = 0
    for folder, folders, files in os.walk(root):
        folders.sort()
        inside = os.path.relpath(folder, root)
        for name in sorted(folders) + sorted(files):
            seen += 1
            if seen > MOST:
                return
            if spec.match_file(os.path.normpath(os.path.join(inside, name))):
                yield os.path.join(folder, name)


class Catalogue:
    """What modules offer, for one project; answers are kept."""

    def __init__(
        self, language: Language, project: Project, libraries: tuple[str, ...] = ()
    ) -> None:
        self._language, self._project = language, project
        patterns = tuple(filter(None, libraries))
        project.reads_files |= bool(patterns)
        self._libraries = tuple(files_below(project.root, patterns))
        self._known: dict[tuple[str, str], frozenset[str] | None] = {}

    def names(self, module: str, offers: str, deep: int = DEPTH) -> frozenset[str] | None:
        """The names that a star takes from a module; None if that is not known.

        Relative modules are those from the file's own folder on.
        """
        key = (module, offers)
        if key not in self._known:
            self._project.reads_files = True
            self._known[key] = None  # what asks for itself is not known
            found = self._of_sources(module, offers, deep)
            more = self._language.support.names
            if found is None and more is not None:
                found = more(module, offers, self._libraries)
            self._known[key] = found
        return self._known[key]

    def _of_sources(self, module: str, offers: str, deep: int) -> frozenset[str] | None:
        suffixes = self._language.facts.suffixes
        for place in self._places(module):
            if offers != NAMES:
                if place.is_dir():
                    stems = [p.stem for p in islice(place.iterdir(), MOST) if p.suffix in suffixes]
                    if stems:
                        return frozenset(stem for stem in stems if stem.isidentifier())
                continue
            for path in self._files(place):
                if path.is_file():
                    return self._of_file(path, module, deep)
        return None

    def _files(self, place: Path) -> Iterator[Path]:
        """The files that a module may be."""
        for suffix in self._language.facts.suffixes:
            yield place.with_name(place.name + suffix)
            for stem in self._language.facts.folder_files:
                yield place / f"{stem}{suffix}"

    def _places(self, module: str) -> Iterator[Path]:
        """Where a module may be, without the ending of its file."""
        words = module.lstrip(".").split(".") if module.strip(".") else []
        level = len(module) - len(module.lstrip("."))
        if level:
            folder = self._project.folder
            for _ in range(level - 1):
                if folder == self._project.root or folder == folder.parent:
                    return  # it would lead out of the project
                folder = folder.parent
            yield folder.joinpath(*words)
            return
        known = self._language.support.folders
        more = known(self._project.root) if known is not None else []
        for folder in (*self._project.folders, *more):
            yield folder.joinpath(*words)

    def _of_file(self, path: Path, module: str, deep: int) -> frozenset[str] | None:
        try:
            source = Source.from_bytes(read_file(path, MOST_SOURCE), str(path))
        except (OSError, StiloError):
            return None
        language = self._language
        parsed = language.read(source.data)
        if parsed.has_error:
            return None
        offered = exported(parsed.tree, language.marks(parsed.tree, "exports"))
        if offered is None:
            return None
        names, stars = offered
        for star in stars if deep else ():
            inner = _seen_from(star, module, path.stem in language.facts.folder_files)
            below = self.names(inner, NAMES, deep - 1)
            if below is None:
                return None
            names |= below
        return None if stars and not deep else frozenset(names)


def _seen_from(star: str, module: str, is_folder: bool) -> str:
    """A relative module as the whole path that it has in another module."""
    level = len(star) - len(star.lstrip("."))
    if not level or module.startswith("."):
        return star
    words = module.split(".")
    keep = len(words) - level + is_folder
    return ".".join([*words[:max(0, keep)], *filter(None, [star.lstrip(".")])])


def exported(tree: Tree, marks: Marks) -> tuple[set[str], list[str]] | None:
    """The names that a source offers to a star, and the modules whose names it passes on by one.

    None where the source makes up its list of names as it runs.
    """
    names: set[str] = set()
    listed: set[str] = set()
    stars: list[str] = []
    stack = [0] if tree.kind else []
    lists = False
    while stack:
        node = stack.pop()
        for child in marks.children(node):
            said = marks.word(child, "exports")
            if said == "closed":
                continue
            if said == "list":
                lists = True
            elif said == "unknown":
                return None
            elif said != "none":
                text = tree.text(child)
                if said == "listed":
                    listed.add(text.strip("\"'"))
                elif said == "star":
                    stars.append("".join(text.split()))
                elif not text.startswith("_"):
                    names.add(text)
            if tree.last_token.get(child) is not None:
                stack.append(child)
    return (listed, []) if lists else (names, stars)
