"""Which languages there are, and how they are found: by name, by a file's name, or as a sheet of one's own."""

from __future__ import annotations

import os
import re
from collections.abc import Sequence
from fnmatch import fnmatchcase
from functools import lru_cache
from importlib import import_module, resources
from pathlib import Path, PurePath

from stilo.errors import Fault, SheetError, UnknownLanguage, UnreadableSource
from stilo.language import Language
from stilo.paths import shown_path
from stilo.reading import MOST_SETTINGS, head_of, read_file
from stilo.sheet.every import of_every_role
from stilo.sheet.facts import Claim, claims_of
from stilo.sheet.parse import read_facts
from stilo.support import NO_SUPPORT, Support

#: What follows the number of a version's first part in the name of a program.
_VERSION = re.compile(r"(?<=\d)\.[\d.]+$")
BASE = "base"
SUFFIX = ".stilo"
_FOLDER = "stilo.languages"
#: How many bytes of a text are searched for what shows its language.
MOST_SEARCHED = 1 << 16


def sheet_text(name: str) -> str:
    """The text of a sheet that comes with Stilo: of a language, or of all, `base`."""
    folder = resources.files(_FOLDER)
    if name != BASE:
        folder = folder / name
    return (folder / f"{name}{SUFFIX}").read_text("utf-8")


@lru_cache
def language_names() -> tuple[str, ...]:
    """The languages that Stilo has a sheet for."""
    return tuple(sorted(
        entry.name
        for entry in resources.files(_FOLDER).iterdir()
        if (entry / f"{entry.name}{SUFFIX}").is_file()
    ))


def _support_of(name: str) -> Support:
    """The code that stands beside a sheet of ours."""
    if name not in language_names():
        return NO_SUPPORT
    found: Support = import_module(f"{_FOLDER}.{name}").SUPPORT
    return found


@lru_cache
def load_language(name: str) -> Language:
    """A language by name. Raises UnknownLanguage, SheetError."""
    if name not in language_names():
        raise UnknownLanguage(name, language_names())
    sheets = [(f"{n}{SUFFIX}", sheet_text(n)) for n in _below(name)]
    return Language(sheets, _support_of(name), is_ours=True)


def _below(name: str) -> list[str]:
    """The sheets of a language of ours, the weakest first, its own last."""
    found = [name]
    while BASE not in found:
        on = read_facts(sheet_text(found[-1]), found[-1]).facts.get("builds-on")
        found.append(BASE if on is None or on.words[0] in found else on.words[0])
    return found[::-1]


def is_setting(name: str) -> bool:
    """Whether one of our languages has a setting of this name."""
    return any(
        name in settings or of_every_role(name, settings)
        for settings in (load_language(language).settings for language in language_names())
    )


def define_language(sheet: str | Path, on: str | None = None) -> Language:
    """A language by a sheet of one's own, given as text, or as the path of its file.

    A sheet that names a grammar is a language of its own, on top of the base sheet. One that
    names none adds its rules to the language `on`, or to the one of ours that it names itself.
    Raises UnreadableSource, UnknownLanguage or SheetError.
    """
    name, text = (
        ("sheet", sheet) if isinstance(sheet, str) else (shown_path(sheet), _sheet_file(sheet))
    )
    found = read_facts(text, name)
    below = [BASE]
    if "grammar" not in found.facts:
        known = on or found.language
        if not known:
            message = "the sheet names no grammar, and no language to add its rules to"
            raise SheetError([Fault(name, 1, 1, message)])
        if known not in language_names():
            raise UnknownLanguage(known, language_names())
        below = _below(known)
    sheets = [*((f"{n}{SUFFIX}", sheet_text(n)) for n in below), (name, text)]
    return Language(sheets, _support_of(found.language or below[-1]))


def _sheet_file(path: Path) -> str:
    try:
        return read_file(path, MOST_SETTINGS).decode()
    except OSError as error:
        raise UnreadableSource(shown_path(path), f"no sheet there: {error.strerror}") from error
    except UnicodeDecodeError as error:
        raise UnreadableSource(shown_path(path), "a sheet is UTF-8 text; this is not") from error


@lru_cache
def _said_by_all(*names: str) -> tuple[tuple[str, str], ...]:
    """(word, language) of the words of some facts in all our sheets, of which no more than these is read."""
    found = []
    for language in language_names():
        facts = read_facts(sheet_text(language), language).facts
        for name in names:
            found += [(word, language) for word in facts[name].words] if name in facts else []
    return tuple(found)


def language_for_file(path: str) -> str:
    """The name of the language that a file's name says. Raises UnknownLanguage."""
    found = _language_of_name(os.path.basename(path))
    if found is None:
        raise UnknownLanguage(path, language_names())
    return found


@lru_cache(maxsize=1000)
def language_called(word: str) -> str | None:
    """The name of the language that is called so, as where a text says what it holds, or None."""
    small = word.lower()
    if small in language_names():
        return small
    return next((name for said, name in _said_by_all("called") if said == small), None)


@lru_cache(maxsize=10_000)
def _language_of_name(base: str) -> str | None:
    globs = _said_by_all("files", "notebooks")
    return next((name for glob, name in globs if fnmatchcase(base, glob)), None)


def language_claiming(path: str | Path) -> str | None:
    """The name of a language that claims a file though its name is that of another language; or None.

    The text of the file shows it, as the sheet of that language says (fact `claims`).
    """
    return next((name for name, claims in _claims() if is_claimed(path, claims)), None)


def is_claimed(path: str | Path, claims: Sequence[Claim]) -> bool:
    """Whether the name and the text of a file are such as one of the claims says."""
    base = os.path.basename(path)
    asked = [claim for claim in claims if fnmatchcase(base, claim.glob)]
    head = head_of(path, MOST_SEARCHED) if asked else b""
    return any(claim.shown.search(head) and not claim.never.search(head) for claim in asked)


@lru_cache
def _claims() -> tuple[tuple[str, tuple[Claim, ...]], ...]:
    said: dict[str, list[str]] = {}
    for word, name in _said_by_all("claims"):
        said.setdefault(name, []).append(word)
    return tuple((name, claims_of(words, True)) for name, words in said.items())


def language_for_first_line(line: bytes) -> str | None:
    """The name of the language of a script whose first line names the program that runs it, or None.

    line: such as `#!/usr/bin/env python3`. What stands after a version (`python3.11`) does not count.
    """
    words = line[2:].split() if line.startswith(b"#!") else []
    if words and PurePath(os.fsdecode(words[0])).name == "env":
        words = [word for word in words[1:] if not word.startswith(b"-") and b"=" not in word]
    if not words:
        return None
    program = _VERSION.sub("", PurePath(os.fsdecode(words[0])).name)
    return next((name for said, name in _said_by_all("interpreters") if said == program), None)
