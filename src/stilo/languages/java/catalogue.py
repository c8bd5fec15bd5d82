"""The names that packages and classes of Java offer, read from jmods, jars and class files.

Class files are read as The Java Virtual Machine Specification, chapter 4, lays them down; nothing is
loaded or run. A jmod is a zip archive after four bytes (JEP 261).
"""

from __future__ import annotations

import atexit
import hashlib
import json
import os
import shutil
import struct
import zlib
from collections.abc import Iterable, Iterator
from contextlib import suppress
from functools import lru_cache
from pathlib import Path
from zipfile import BadZipFile, ZipFile

from stilo.reading import read_file
from stilo.user_cache import cache_folder, keep

PUBLIC, PRIVATE, STATIC, SYNTHETIC = 0x0001, 0x0002, 0x0008, 0x1000
#: What reading from a damaged archive, or a class file that is none, may raise.
UNREADABLE = (OSError, BadZipFile, RuntimeError, NotImplementedError, zlib.error)
BROKEN = (struct.error, IndexError, KeyError)
#: The most bytes of a class file and of what was kept, the most entries of an archive, and the most
#: classes looked at for the members of one.
MOST_CLASS, MOST_KEPT, MOST_ENTRIES, MOST_ABOVE = 4 << 20, 64 << 20, 400_000, 1_000
#: Sizes of the entries of a constant pool by tag (section 4.4), the tag not counted.
_SIZES = {
    3: 4,
    4: 4,
    5: 8,
    6: 8,
    7: 2,
    8: 2,
    9: 4,
    10: 4,
    11: 4,
    12: 4,
    15: 3,
    16: 2,
    17: 4,
    18: 4,
    19: 2,
    20: 2,
}


def names(module: str, offers: str, libraries: tuple[str, ...]) -> frozenset[str] | None:
    """The public types of a package (`files`), all of them (`home`), or the static members of a class
    (`names`).

    libraries: jars, jmods and folders of class files; those of the JDK at hand are read besides.
    None if nothing is known of the module.
    """
    places = (*libraries, *_jdk())
    kept, key = _kept(places), f"{offers} {module}"
    if key not in kept:
        if offers == "names":
            found = _members(module, places)
        else:
            found = _types(module, places, offers == "home")
        kept[key] = sorted(found)
        kept[NEW] = []
    return frozenset(kept[key]) or None


def _answers(kept: object) -> dict[str, list[str]]:
    """What was kept, as far as it is what we keep; anybody may have written the file."""
    if not isinstance(kept, dict):
        return {}
    return {
        key: found
        for key, found in kept.items()
        if isinstance(found, list) and all(isinstance(name, str) for name in found)
    }


#: In what was kept: there is something to write.
NEW = ""


@lru_cache
def _kept(places: tuple[str, ...]) -> dict[str, list[str]]:
    """The answers of earlier runs about archives that have not changed since; written on exit.

    They stand in a file of the user's cache folder, named after the archives' names, sizes and times.
    """
    if any(os.path.isdir(place) for place in places):
        return {}  # a folder does not tell that something in it changed
    folder = cache_folder()
    if folder is None:
        return {}
    stats = [(p, os.stat(p).st_size, os.stat(p).st_mtime_ns) for p in places if os.path.exists(p)]
    name = hashlib.sha256(repr(stats).encode()).hexdigest()[:24]
    path = folder / f"java-{name}.json"
    try:
        kept = _answers(json.loads(read_file(path, MOST_KEPT)))
    except (OSError, ValueError, RecursionError):
        kept = {}

    def write() -> None:
        if kept.pop(NEW, None) is not None:
            keep(path, json.dumps(kept).encode())

    atexit.register(write)
    return kept


@lru_cache
def _jdk() -> tuple[str, ...]:
    """The modules of the JDK that JAVA_HOME names, or that `javac` on the path belongs to."""
    home = os.environ.get("JAVA_HOME")
    if not home:
        compiler = shutil.which("javac")
        home = str(Path(compiler).resolve().parent.parent) if compiler else ""
    return tuple(sorted(map(str, Path(home).glob("jmods/*.jmod")))) if home else ()


@lru_cache
def _packages(place: str) -> dict[str, list[str]]:
    """Package → the entries of an archive that are its top-level types."""
    found: dict[str, list[str]] = {}
    try:
        with ZipFile(place) as archive:
            entries = archive.namelist()[:MOST_ENTRIES]
    except (OSError, BadZipFile):
        return {}
    for entry in entries:
        path = entry.removeprefix("classes/")
        if path.endswith(".class"):
            package, _, name = path[:-len(".class")].rpartition("/")
            if "-" not in name:
                found.setdefault(package.replace("/", "."), []).append(entry)
    return found


def _entries(package: str, places: Iterable[str]) -> Iterator[tuple[str, bytes]]:
    """Name and class file of each type of a package, the nested ones after a `$`."""
    for place in places:
        if os.path.isdir(place):
            folder = Path(place, *package.split("."))
            for path in sorted(folder.glob("*.class")) if folder.is_dir() else ():
                with suppress(OSError):
                    yield path.stem, read_file(path, MOST_CLASS)
            continue
        entries = _packages(place).get(package)
        if entries:
            with ZipFile(place) as archive:
                for entry in entries:
                    try:
                        if archive.getinfo(entry).file_size > MOST_CLASS:
                            continue
                        with archive.open(entry) as stream:
                            data = stream.read(MOST_CLASS)
                    except UNREADABLE:
                        continue
                    yield entry.rpartition("/")[2][:-len(".class")], data


@lru_cache(maxsize=4096)
def _types(package: str, places: tuple[str, ...], are_all: bool) -> frozenset[str]:
    # `import a.B.*` takes the types within a class.
    outer, _, last = package.rpartition(".")
    found = {
        name
        for name, data in _entries(package, places)
        if "$" not in name and (are_all or _access(data) & PUBLIC)
    }
    if not found and outer:
        found = {
            name.partition("$")[2]
            for name, _ in _entries(outer, places)
            if name.startswith(f"{last}$") and "$" not in name.partition("$")[2]
        }
    return frozenset(name for name in found if name.isidentifier())


def _members(path: str, places: tuple[str, ...]) -> frozenset[str]:
    """The static members of a class, also those of what it extends, and the types in it."""
    found: set[str] = set()
    asked, left = {path}, [path]
    while left and len(asked) < MOST_ABOVE:
        members, above = _own_members(left.pop(), places)
        found |= members
        new = [name for name in above if name not in asked and name not in ("", "java.lang.Object")]
        asked.update(new)
        left += new
    return frozenset(found)


@lru_cache(maxsize=4096)
def _own_members(path: str, places: tuple[str, ...]) -> tuple[frozenset[str], tuple[str, ...]]:
    """The static members of a class and the types in it, and what it extends."""
    package, _, name = path.rpartition(".")
    files = dict(_entries(package, places)) if package else {}
    if name not in files:
        return frozenset(), ()
    try:
        read = _ClassFile(files[name])
    except BROKEN:
        return frozenset(), ()
    found = set(read.statics)
    found |= {n.partition("$")[2] for n in files if n.startswith(f"{name}$")}
    return frozenset(n for n in found if n.isidentifier()), (read.above, *read.interfaces)


def _access(data: bytes) -> int:
    """The access flags of a class file; of a broken one none."""
    try:
        return _ClassFile(data).access
    except BROKEN:
        return 0


class _ClassFile:
    """Access flags, what it extends, and its static members that are not private."""

    def __init__(self, data: bytes) -> None:
        count = struct.unpack_from(">H", data, 8)[0]
        texts: dict[int, bytes] = {}
        classes: dict[int, int] = {}
        at, index = 10, 1
        while index < count:
            tag = data[at]
            if tag == 1:
                length = struct.unpack_from(">H", data, at + 1)[0]
                texts[index] = data[at + 3 : at + 3 + length]
                at += 3 + length
            else:
                if tag == 7:
                    classes[index] = struct.unpack_from(">H", data, at + 1)[0]
                at += 1 + _SIZES[tag]
            index += 2 if tag in (5, 6) else 1

        def class_name(number: int) -> str:
            name = texts.get(classes.get(number, 0), b"")
            return name.decode("utf-8", "replace").replace("/", ".")

        self.access: int
        self.access, _, above, interfaces = struct.unpack_from(">4H", data, at)
        self.above = class_name(above)
        at += 8
        numbers = struct.unpack_from(f">{interfaces}H", data, at)
        self.interfaces = [class_name(number) for number in numbers]
        at += 2 * interfaces
        self.statics: list[str] = []
        for _ in ("fields", "methods"):
            members = struct.unpack_from(">H", data, at)[0]
            at += 2
            for _ in range(members):
                access, name, _, attributes = struct.unpack_from(">4H", data, at)
                at += 8
                for _ in range(attributes):
                    at += 6 + struct.unpack_from(">I", data, at + 2)[0]
                if access & STATIC and not access & (PRIVATE | SYNTHETIC):
                    self.statics.append(texts[name].decode("utf-8", "replace"))
