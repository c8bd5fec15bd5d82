"""Files of settings, and sheets, in an editor: what is wrong in them, what may stand there, and what it means."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping, Sequence
from functools import lru_cache
from pathlib import Path
from typing import Any, NamedTuple

from stilo.errors import ConfigError, Fault, SheetError, StiloError
from stilo.registry import define_language
from stilo.serve.documents import Snapshot
from stilo.serve.styles import SHEET_ENDING
from stilo.sheet.facts import FACTS
from stilo.sheet.properties import PROPERTIES
from stilo.style.config import PROJECT_FILE, SHARED_FILE, SHARED_TABLE, read_config
from stilo.style.given import PROJECT
from stilo.style.schema import schema

_HEADER = re.compile(r"^\s*\[+\s*([^\]#]*?)\s*\]+")
_KEY = re.compile(r"^\s*([\w.*\"'-]+)\s*=")
_WORD = re.compile(r"[\w.*-]+")


class Offer(NamedTuple):
    """What may be written at a place: the word, what it means, and whether it is a value."""

    word: str
    meaning: str
    is_value: bool = False


def is_known(path: str) -> bool:
    """Whether Stilo can say something of a file of settings, or of a sheet."""
    return Path(path).name in (PROJECT_FILE, SHARED_FILE) or path.endswith(SHEET_ENDING)


def faults(text: Snapshot) -> Sequence[Fault]:
    """What is wrong in a file of settings or a sheet."""
    said, path = text.raw.decode("utf-8", "replace"), Path(text.path)
    try:
        if path.name in (PROJECT_FILE, SHARED_FILE):
            read_config(path, PROJECT, path.name, said)
        elif said.strip():
            define_language(said)
    except (ConfigError, SheetError) as error:
        return error.faults
    except StiloError as error:
        return [Fault(path.name, 1, 1, str(error))]
    return []


def offers(text: Snapshot, offset: int) -> list[Offer]:
    """What may be written at a place."""
    said = text.raw[:offset].decode("utf-8", "ignore")
    line = said.rpartition("\n")[2]
    if text.path.endswith(SHEET_ENDING):
        return _in_sheet(said, line)
    table = _table(said, Path(text.path).name)
    if table is None:
        return []
    key = _KEY.match(line)
    if key is not None:
        found = _at([*table, *_split(key[1])])
        return [
            Offer(f'"{word}"' if isinstance(word, str) else str(word), "", True)
            for word in _values(found)
        ]
    if _HEADER.match(line + "]") or "#" in line:
        return []
    start = _split(line.strip())
    around = _at([*table, *start[:-1]]) if start else _at(table)
    return [
        Offer(name, str(of.get("description", "")))
        for name, of in (around or {}).get("properties", {}).items()
    ]


def meaning(text: Snapshot, offset: int) -> str | None:
    """What the word at a place means, in Markdown."""
    said = text.raw.decode("utf-8", "replace")
    at = len(text.raw[:offset].decode("utf-8", "ignore"))
    start, end = said.rfind("\n", 0, at) + 1, said.find("\n", at)
    line = said[start:end if end >= 0 else len(said)]
    word = next((m[0] for m in _WORD.finditer(line) if m.start() <= at - start <= m.end()), "")
    if text.path.endswith(SHEET_ENDING):
        return _meaning_in_sheet(word)
    table = _table(said[:start], Path(text.path).name)
    key, header = _KEY.match(line), _HEADER.match(line)
    if table is None:
        return None
    way = _split(header[1]) if header else [*table, *_split(key[1])] if key else []
    if header and Path(text.path).name == SHARED_FILE:
        way = way[len(SHARED_TABLE):]
    found = _at(way) if way else None
    if not found:
        return None
    lines = [f"**{'.'.join(way)}**", str(found.get("description", ""))]
    if values := _values(found):
        lines.append("One of " + ", ".join(f"`{value}`" for value in values) + ".")
    if "minimum" in found:
        lines.append(f"A number from {found['minimum']} to {found['maximum']}.")
    if "default" in found:
        lines.append(f"Default: `{found['default']}`.")
    return "\n\n".join(part for part in lines if part)


@lru_cache(1)
def _schema() -> Mapping[str, Any]:
    return schema()


def _at(way: Sequence[str]) -> Mapping[str, Any] | None:
    """What the schema says of a key."""
    found: Mapping[str, Any] = _schema()
    for word in way:
        properties = found.get("properties", {})
        if word not in properties:
            return None
        found = properties[word]
    return found


def _values(found: Mapping[str, Any] | None) -> list[Any]:
    return list((found or {}).get("enum", (found or {}).get("examples", ())))


def _split(key: str) -> list[str]:
    return [word.strip().strip("\"'") for word in key.split(".")]


def _table(before: str, name: str) -> list[str] | None:
    """The table that a place stands in, from the file's own; None if it is another program's."""
    headers = [found[1] for line in before.split("\n") if (found := _HEADER.match(line))]
    way = _split(headers[-1]) if headers else []
    if name != SHARED_FILE:
        return way
    above = list(SHARED_TABLE)
    return way[len(above):] if way[:len(above)] == above else None


def _in_sheet(said: str, line: str) -> list[Offer]:
    """The facts in `@language`, and the properties in a rule."""
    opened = said.rfind("{")
    if opened < said.rfind("}") or ":" in line.rpartition(";")[2].rpartition("{")[2]:
        return []
    head = said[:opened].rpartition("}")[2].rpartition(";")[2].strip()
    if head.startswith("@language"):
        return [Offer(name, kind.meaning) for name, kind in FACTS.items()]
    return [Offer(name, of.meaning) for name, of in PROPERTIES.items()]


def _meaning_in_sheet(word: str) -> str | None:
    if word in PROPERTIES:
        return f"**{word}**: {PROPERTIES[word].meaning}"
    return f"**{word}**: {FACTS[word].meaning}" if word in FACTS else None


def links(text: Snapshot) -> Iterator[tuple[int, int, str]]:
    """Where a setting is given, and the words under which the reference has it: start, end, name."""
    name = Path(text.path).name
    if name not in (PROJECT_FILE, SHARED_FILE):
        return
    table: list[str] | None = [] if name != SHARED_FILE else None
    at = 0
    for row in text.raw.decode("utf-8", "replace").split("\n"):
        header, key = _HEADER.match(row), _KEY.match(row)
        if header:
            table = _table(row, name)
        elif key and table is not None and _at([*table, *_split(key[1])]):
            start = at + len(row[:key.start(1)].encode())
            yield start, start + len(key[1].encode()), ".".join([*table, *_split(key[1])])
        at += len(row.encode()) + 1
