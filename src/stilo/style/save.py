"""Writing values of settings where a team shares them: what a file becomes, comments kept.

All functions are pure: the text of a file in, its new text out.
"""

from __future__ import annotations

import os
import tomllib
from collections.abc import Mapping, Sequence
from pathlib import Path
from typing import Any

import tomlkit

from editorconfig.ini import EditorConfigParser
from stilo.registry import language_names
from stilo.sheet.every import EVERY
from stilo.sheet.properties import Value
from stilo.style.config import SHARED_FILE, SHARED_TABLE
from stilo.style.editorconfig import export
from stilo.style.toml import last_line

Settings = Mapping[str, Value]


def into_toml(text: str, path: Path, settings: Settings, language: str | None) -> str:
    """A file of settings with these values, in the table of a language or at the top.

    A key that is there already is changed in place, however it is written.
    """
    above = SHARED_TABLE if path.name == SHARED_FILE else ()
    table = (*above, language) if language else above
    for name, value in settings.items():
        text = _changed(text, table, name, value) or _added(text, table, name, value)
    return text


def with_style(text: str, path: Path, style: str) -> str:
    """A file of settings that starts from a named style, or from that of a file.

    path: of the file of settings, from whose folder that of a style is named.
    """
    table = SHARED_TABLE if path.name == SHARED_FILE else ()
    if Path(style).suffix:
        style = Path(os.path.relpath(style, path.parent)).as_posix()
    changed = _changed(text, table, "style", style)
    if changed is not None or table or last_line(text, ()) == 0:
        return changed or _added(text, table, "style", style)
    rows = text.splitlines(keepends=True)
    first = next(n for n, row in enumerate(rows) if row.strip() and not row.startswith("#"))
    end = "\r\n" if rows[first].endswith("\r\n") else "\n"
    rows.insert(first, f"style = {tomlkit.item(style).as_string()}{end}")  # all else starts from it
    return "".join(rows)


def without(text: str, path: Path, name: str, tables: Sequence[str | None]) -> str | None:
    """A file of settings that no longer gives a setting a value, or None if it does not.

    tables: where to look, the first that gives it counts: a language's table, or None for the top.
    """

    above = SHARED_TABLE if path.name == SHARED_FILE else ()
    role, _, aspect = name.partition(".")
    for language in tables:
        document = tomlkit.parse(text)
        way: list[Any] = [document]
        for word in (*above, *([language] if language else ())):
            if word not in way[-1]:
                break
            way.append(way[-1][word])
        else:
            words = list((*above, *([language] if language else ())))
            if name not in way[-1] and aspect and role in way[-1] and aspect in way[-1][role]:
                way.append(way[-1][role])
                words.append(role)
                name = aspect
            if name in way[-1]:
                del way[-1][name]
                while words and not way[-1]:  # a table of nothing goes, too
                    way.pop()
                    del way[-1][words.pop()]
                rest = tomlkit.dumps(document).strip("\r\n")
                end = "\r\n" if text.endswith("\r\n") else "\n" if text.endswith("\n") else ""
                return rest + end if rest else ""
    return None


def hiding_tables(text: str, path: Path, name: str, value: Value) -> list[str]:
    """The tables of languages in a file of settings that give a setting another value than the top."""
    document = tomllib.loads(text)
    for word in SHARED_TABLE if path.name == SHARED_FILE else ():
        document = document.get(word, {})
    role, _, aspect = name.partition(".")
    found = []
    for language, table in document.items():
        if language in language_names() and isinstance(table, dict):
            inner = table.get(role) if aspect else None
            said = inner.get(aspect) if isinstance(inner, dict) else table.get(name)
            if said is not None and said != value:
                found.append(language)
    return found


def without_line(text: str, line: int) -> str:
    """A text without one of its lines (from 1)."""
    lines = text.splitlines(keepends=True)
    return "".join(lines[:line - 1] + lines[line:])


def _changed(text: str, table: tuple[str, ...], name: str, value: Value) -> str | None:
    """The text with another value for a key that is there, or None."""

    document = tomlkit.parse(text)
    at: Any = document
    for word in table:
        if word not in at:
            return None
        at = at[word]
    role, _, aspect = name.partition(".")
    if name in at:
        at[name] = value
    elif aspect and role in at and aspect in at[role]:
        at[role][aspect] = value
    else:
        return None
    return tomlkit.dumps(document)


def _added(text: str, table: tuple[str, ...], name: str, value: Value) -> str:
    """The text with a new key after the others of a table; the table, too, if it is not there.

    Where what stands there forbids that (such as `table.key = 2`, after which no `[table]` may
    follow), it is written with dots in the table around, or else in the way that it permits.
    """
    shown = tomlkit.item(value).as_string()
    key = f'"{EVERY}".{name[2:]}' if name.startswith(f"{EVERY}.") else name
    for length in range(len(table), -1, -1):
        after = _with_line(text, table[:length], f"{key} = {shown}")
        if _holds(after, table, name, value):
            return after
        key = f"{table[length - 1]}.{key}"
    document = tomlkit.parse(text)
    at: Any = document
    words = [*table, *name.split(".")]
    for word in words[:-1]:
        at = at.setdefault(word, tomlkit.table())
    at[words[-1]] = value
    return tomlkit.dumps(document)


def _with_line(text: str, table: tuple[str, ...], line: str) -> str:
    if text and not text.endswith("\n"):
        text += "\n"
    end = "\r\n" if "\r\n" in text else "\n"
    rows = text.splitlines(keepends=True)
    at = last_line(text, table)
    if at is None:
        rows += [end] if rows and rows[-1].strip() else []
        rows += [f"[{'.'.join(table)}]{end}"]
        at = len(rows)
    if at < len(rows) and rows[at].lstrip().startswith("["):
        rows.insert(at, end)  # a table has a blank line above it
    rows.insert(at, line + end)
    return "".join(rows)


def _holds(text: str, table: tuple[str, ...], name: str, value: Value) -> bool:
    """Whether a text is TOML in which a key has a value."""
    try:
        at: Any = tomllib.loads(text)
        for word in (*table, *name.split(".")):
            at = at[word]
    except (tomllib.TOMLDecodeError, LookupError, TypeError):
        return False
    return bool(at == value)


def into_editorconfig(text: str, globs: Sequence[str], settings: Settings, values: Settings) -> str:
    """An EditorConfig file with these values, in the last section of just these globs.

    values: those of all settings.
    """
    header = globs[0] if len(globs) == 1 else "{" + ",".join(globs) + "}"
    lines = text.splitlines(keepends=True)
    if lines and not lines[-1].endswith("\n"):
        lines[-1] += "\n"
    end = "\r\n" if lines and lines[0].endswith("\r\n") else "\n"
    for key, value in export(settings, values):
        begin = stop = None
        for number, line in enumerate(lines):
            found = EditorConfigParser.SECTCRE.match(line)
            if found:
                if found["header"] == header:
                    begin, stop = number, len(lines)
                elif begin is not None and stop == len(lines):
                    stop = number
        if begin is None or stop is None or any(_sets(line, key) for line in lines[stop:]):
            lines += [end] if lines else []  # at the end, since what stands later counts
            lines += [f"[{header}]{end}"]
            begin, stop = len(lines) - 1, len(lines)
        written = f"{key} = {value}{end}"
        for number in range(begin + 1, stop):
            if _sets(lines[number], key):
                lines[number] = written
                break
        else:
            while stop > begin + 1 and lines[stop - 1].lstrip()[:1] in ("", "#", ";"):
                stop -= 1
            lines.insert(stop, written)
    return "".join(lines)


def _sets(line: str, key: str) -> bool:
    """Whether a line of an EditorConfig file gives a property a value."""
    option = EditorConfigParser.OPTCRE.match(line.rstrip("\r\n"))
    is_it = option is not None and option["option"].strip().lower() == key
    return is_it and line[0] not in "#;"


def into_source(
    text: str, lines: tuple[int, int], settings: Settings, comment_signs: Sequence[str]
) -> str:
    """A source with a directive before the first of some lines and its end after the last.

    comment_signs: what begins a comment, and what ends it, if anything does.
    """
    rows = text.split("\n")
    rows = [f"{row}\n" for row in rows[:-1]] + ([rows[-1]] if rows[-1] else [])
    first, last = lines
    margin = rows[first - 1][:len(rows[first - 1]) - len(rows[first - 1].lstrip())]
    end = "\r\n" if rows[first - 1].endswith("\r\n") else "\n"
    if not rows[first - 1].endswith("\n") and len(rows) > 1 and rows[0].endswith("\r\n"):
        end = "\r\n"
    said = " ".join(f"{name}={value}" for name, value in settings.items())

    def comment(words: str) -> str:
        return f"{margin}{' '.join([comment_signs[0], words, *comment_signs[1:]])}{end}"

    if not rows[last - 1].endswith("\n"):
        rows[last - 1] += end  # it is the last line of all
    rows.insert(last, comment("stilo: set end"))
    rows.insert(first - 1, comment(f"stilo: set begin {said}"))
    return "".join(rows)
