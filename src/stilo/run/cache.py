"""What is known to be in style, kept from run to run, so that only what changed is laid out again.

A text is known by a digest of all that has a say in its result: its bytes, the style, the sheets, this
version of Stilo and of what it reads with. Where the names in some folders had a say, because imports are
grouped, these are compared, too. Nothing is lost with the cache: whatever cannot be read from it, or written
to it, is laid out once more.
"""

from __future__ import annotations

import json
import os
import sqlite3
import sys
import time
from collections.abc import Iterable, Iterator, Mapping, Sequence
from contextlib import contextmanager, suppress
from functools import cache
from hashlib import blake2b
from importlib import metadata
from pathlib import Path
from typing import Any, NamedTuple

import stilo
from stilo.embed.segments import DocumentResult
from stilo.order.asked import is_wanted
from stilo.order.project import Project, entries_of
from stilo.result import Result
from stilo.sheet.properties import Value
from stilo.style.resolve import FileStyle
from stilo.user_cache import cache_folder

#: The most texts that are known; when there are more, those that were used least recently go.
MOST = 500_000
#: Changed when what is kept changes its form.
FORM = 1
#: Seconds to wait for another run that writes at the moment.
WAIT = 2.0
#: How many texts are looked up at a time, and are remembered at a time.
BATCH = 500
_DAY = 86_400
_SIZE = 16
#: The packages by which texts are read, besides grammars.
_READ_WITH = ("tree-sitter",)


class Entry(NamedTuple):
    """A text that is in style. key: its digest. folders, entries: the folders whose entries had a say, and a
    digest of these."""

    key: bytes
    folders: tuple[str, ...]
    entries: bytes


class Keys:
    """Digests of texts under their styles. Not for several threads."""

    def __init__(self) -> None:
        self._styles: dict[int, tuple[Mapping[str, Value], Any]] = {}
        self._folders = Folders()

    def key(self, style: FileStyle, data: bytes) -> bytes:
        """The digest of a file's bytes and of all that has a say in its result but other files."""
        known = self._styles.get(id(style.values))
        if known is None:
            known = self._styles[id(style.values)] = (style.values, _digest_of_style(style))
        digest = known[1].copy()
        digest.update(b"%d\0" % style.language.facts.is_notebook(style.path))
        if is_wanted(style.values):  # where a file is tells which modules are near
            digest.update(os.fsencode(os.path.abspath(style.path)) + b"\0")
        digest.update(data)
        return bytes(digest.digest())

    def entry(self, style: FileStyle, result: Result | DocumentResult) -> Entry | None:
        """What to keep of a result, whose bytes are in style; None where too much had a say in it."""
        listed = result.folders_read
        if listed is None:
            return None
        key = self.key(style, result.data)
        if not listed:
            return Entry(key, (), b"")
        folders = tuple(sorted(map(str, listed)))
        around = self._folders.around(style.path)
        found = _digest_of_folders(around, {str(f): entries for f, entries in listed.items()})
        return Entry(key, folders, found)


class Folders:
    """What folders hold at present; each is looked at once."""

    def __init__(self) -> None:
        self._entries: dict[str, Mapping[str, bool]] = {}
        self._around: dict[Path, tuple[Path, ...]] = {}

    def are_as(self, entry: Entry, path: str) -> bool:
        """Whether the folders around a file hold what they held."""
        if not entry.folders:
            return True
        for folder in entry.folders:
            if folder not in self._entries:
                self._entries[folder] = entries_of(Path(folder))
        held = {folder: self._entries[folder] for folder in entry.folders}
        return _digest_of_folders(self.around(path), held) == entry.entries

    def around(self, path: str) -> tuple[Path, ...]:
        """The folders in which modules of a file's project may be."""
        home = Path(path).absolute().parent
        if home not in self._around:
            self._around[home] = Project(Path(path)).folders
        return self._around[home]


class Cache:
    """The texts that are known, in a file of SQLite that several runs may use at once.

    path: of that file, whose folder is made. Raises sqlite3.Error or OSError where it cannot be used.
    """

    def __init__(self, path: Path, most: int = MOST) -> None:
        self._most = most
        path.parent.mkdir(mode=0o700, parents=True, exist_ok=True)
        self._store = sqlite3.connect(path, timeout=WAIT, isolation_level=None)
        form = self._store.execute("PRAGMA user_version").fetchone()[0]
        if form != FORM:
            with self._written():
                self._store.execute("DROP TABLE IF EXISTS known")
                self._store.execute(
                    "CREATE TABLE known (key BLOB PRIMARY KEY, day INTEGER NOT NULL, "
                    "folders TEXT NOT NULL, entries BLOB NOT NULL) WITHOUT ROWID"
                )
                self._store.execute(f"PRAGMA user_version = {FORM}")

    def known(self, keys: Iterable[bytes]) -> dict[bytes, Entry]:
        """The entries of those of some texts that are known, which count as used today."""
        wanted = list(dict.fromkeys(keys))
        found: dict[bytes, Entry] = {}
        old: list[tuple[int, bytes]] = []
        today = _today()
        with suppress(sqlite3.Error, ValueError):
            for begin in range(0, len(wanted), BATCH):
                some = wanted[begin : begin + BATCH]
                signs = ",".join("?" * len(some))
                asked = f"SELECT key, day, folders, entries FROM known WHERE key IN ({signs})"
                for key, day, folders, entries in self._store.execute(asked, some):
                    found[key] = Entry(key, tuple(json.loads(folders)), entries)
                    if day != today:
                        old.append((today, key))
            if old:
                with self._written():
                    self._store.executemany("UPDATE known SET day = ? WHERE key = ?", old)
        return found

    def add(self, entries: Sequence[Entry]) -> None:
        """Keep entries. What cannot be written is not kept."""
        today = _today()
        rows = [(key, today, json.dumps(folders), found) for key, folders, found in entries]
        with suppress(sqlite3.Error), self._written():
            self._store.executemany("INSERT OR REPLACE INTO known VALUES (?, ?, ?, ?)", rows)
            count = self._store.execute("SELECT count(*) FROM known").fetchone()[0]
            if count > self._most:
                self._store.execute(
                    "DELETE FROM known WHERE key IN (SELECT key FROM known ORDER BY day LIMIT ?)",
                    (count - self._most * 3 // 4,),
                )

    def close(self) -> None:
        """Let go of the file."""
        with suppress(sqlite3.Error):
            self._store.close()

    @contextmanager
    def _written(self) -> Iterator[None]:
        """All of what is written within, or nothing."""
        self._store.execute("BEGIN IMMEDIATE")
        try:
            yield
        except BaseException:
            self._store.execute("ROLLBACK")
            raise
        self._store.execute("COMMIT")


def open_cache() -> Cache | None:
    """The user's cache; None where it is off, or cannot be used. One that is broken is begun anew."""
    folder = cache_folder()
    if folder is None:
        return None
    path = folder / "known.sqlite3"
    for _ in range(2):
        try:
            return Cache(path)
        except sqlite3.OperationalError:
            return None  # locked, or in a place where nothing can be written
        except sqlite3.DatabaseError:
            with suppress(OSError):
                path.unlink()
        except OSError:
            return None
    return None


def _today() -> int:
    return int(time.time()) // _DAY


def _digest_of_style(style: FileStyle) -> Any:
    """A digest, to be gone on with, of a style, its sheets, and what lays out by them."""
    language = style.language
    digest = blake2b(_program(), digest_size=_SIZE)
    said = [language.name, language.reader.name, *language.sheet_texts]
    said += [_version(language.facts.grammar)] if language.facts.grammar else []
    said += [f"{name}={value}" for name, value in sorted(style.values.items())]
    for text in said:
        digest.update(text.encode("utf-8", "surrogatepass") + b"\0")
    return digest


def _digest_of_folders(around: Sequence[Path], held: Mapping[str, Mapping[str, bool]]) -> bytes:
    """A digest of the folders that count as around a file, and of what some folders hold."""
    said = [list(map(str, around)), sorted((f, sorted(e.items())) for f, e in held.items())]
    text = json.dumps(said).encode()
    return blake2b(text, digest_size=_SIZE).digest()


@cache
def _program() -> bytes:
    """A digest of this version of Stilo, of what runs it, and of what texts are read with."""
    root = Path(stilo.__file__).parent
    said = [sys.version, *(f"{name} {_version(name)}" for name in _READ_WITH)]
    for folder, folders, files in os.walk(root):
        folders[:] = sorted(name for name in folders if name != "__pycache__")
        for name in sorted(files):
            found = os.stat(os.path.join(folder, name))
            said.append(f"{name} {found.st_size} {found.st_mtime_ns}")
    return blake2b("\0".join(said).encode(), digest_size=_SIZE).digest()


@cache
def _version(package: str) -> str:
    try:
        return metadata.version(package.replace("_", "-"))
    except (metadata.PackageNotFoundError, ValueError):
        return ""
