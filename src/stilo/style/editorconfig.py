"""EditorConfig (editorconfig.org): the standard's properties as settings of ours.

The files are read, and their globs matched, by the `editorconfig` package. Beside the standard's
properties, keys that begin with `stilo.` give any setting its value, which the standard permits.
"""

from __future__ import annotations

import os
import re
from collections import OrderedDict
from collections.abc import Iterator, Mapping
from functools import lru_cache
from pathlib import Path
from typing import Any, NamedTuple

from editorconfig.exceptions import ParsingError
from editorconfig.fnmatch import translate
from editorconfig.ini import EditorConfigParser
from stilo.errors import ConfigError, Fault, near
from stilo.language import Language
from stilo.paths import shown_path
from stilo.patterns import SlowPattern, compiled
from stilo.reading import MOST_SETTINGS, read_file
from stilo.registry import is_setting
from stilo.sheet.every import EVERY, meant
from stilo.sheet.properties import Value
from stilo.style.given import EDITORCONFIG, Given

FILE = ".editorconfig"
#: The most characters of a section's pattern: the standard knows 1,024 and up.
MOST_GLOB = 4096
#: Keys with this before them are names of settings.
OWN = "stilo."

#: Property → (setting, what each of its values is there); numbers pass as they are.
_WORDS: dict[str, tuple[str, dict[str, Value]]] = {
    "indent_style": ("indent-with", {"space": "spaces", "tab": "tabs"}),
    "end_of_line": ("line-ends", {"lf": "lf", "crlf": "crlf"}),
    "insert_final_newline": ("final-newline", {"true": "yes", "false": "no"}),
    "trim_trailing_whitespace": ("trim-comments", {"true": "yes", "false": "no"}),
    "charset": (
        "charset",
        {word: word for word in ("utf-8", "utf-8-bom", "latin1", "utf-16be", "utf-16le")},
    ),
}
_NUMBERS = {"indent_size": "indent", "tab_width": "tab-width", "max_line_length": "width"}
#: Settings that the standard's properties give together.
_STEPS = frozenset(("indent", "indent-with", "tab-width"))


class Said(NamedTuple):
    """A property's value, with file and line."""

    value: str
    file: str
    line: int


class _Lines:
    """A file for the package's parser that knows which line was read last."""

    def __init__(self, text: str) -> None:
        self.lines = text.splitlines(keepends=True)
        self.number = 0

    def readline(self) -> str:
        self.number += 1
        return self.lines[self.number - 1] if self.number <= len(self.lines) else ""


class _Parser(EditorConfigParser):
    """The package's parser, with its patterns of files looked for within a limit of time."""

    def matches_filename(self, config_filename: str, glob: str) -> bool:
        """Whether a section is about the file. Raises re.error, SlowPattern, ValueError."""
        folder = os.path.normpath(os.path.dirname(config_filename)).replace(os.sep, "/")
        glob = glob.replace("\\#", "#").replace("\\;", ";")
        text, ranges = _translated(f"/{glob.removeprefix('/')}" if "/" in glob else f"**/{glob}")
        # The folder is no part of the pattern, whatever signs are in it.
        name = os.path.normpath(self.filename).replace(os.sep, "/")
        inside = name.removeprefix(folder.rstrip("/"))
        found = text.match(inside) if inside.startswith("/") else None
        return (
            found is not None
            and all(
                number[0] != "0" and len(number) < 10 and least <= int(number) <= most
                for number, (least, most) in zip(found.groups(), ranges)
            )
        )


@lru_cache(maxsize=4096)
def _translated(glob: str) -> tuple[re.Pattern[str], list[tuple[int, int]]]:
    """A pattern of files as one of texts, and the least and most of each number in it."""
    if len(glob) > MOST_GLOB:
        raise ValueError("too long")
    text, ranges = translate(glob)
    return compiled(text), ranges


class _Noting(OrderedDict[str, Any]):
    """Properties that keep the line they were read from."""

    def __init__(self, file: str, lines: _Lines) -> None:
        super().__init__()
        self.file, self.lines = file, lines

    def __setitem__(self, key: str, value: Any) -> None:
        super().__setitem__(key, Said(value, self.file, self.lines.number))


@lru_cache(maxsize=4096)
def _text(path: str) -> str | None:
    try:
        return read_file(path, MOST_SETTINGS).decode("utf-8-sig")
    except OSError:
        return None
    except UnicodeDecodeError as error:
        raise ConfigError([
            Fault(shown_path(path), 1, 1, "not UTF-8, as EditorConfig files are"),
        ]) from error


def forget() -> None:
    """Forget the files read so far, which may have changed."""
    _text.cache_clear()


def properties(path: Path) -> dict[str, Said]:
    """What the EditorConfig files around a file say of it. Raises ConfigError."""
    found: dict[str, Said] = {}
    for folder in path.parents:
        file = str(folder / FILE)
        text = _text(file)
        if text is None:
            continue
        parser = _Parser(str(path))
        lines = _Lines(text)
        parser.options = _Noting(shown_path(file), lines)
        try:
            parser._read(lines, file)  # type: ignore[arg-type]
        except ParsingError as error:
            faults = [
                Fault(shown_path(file), number, 1, "neither a section, a property nor a comment")
                for number, _ in error.errors
            ]
            raise ConfigError(faults) from error
        except (re.error, SlowPattern, ValueError, RecursionError) as error:
            message = "this pattern of files cannot be read"
            if isinstance(error, SlowPattern):
                message = "this pattern of files takes too long; write it with fewer `*`"
            raise ConfigError([Fault(shown_path(file), lines.number, 1, message)]) from error
        found = {**parser.options, **found}
        if parser.root_file:
            break
    return {key: said for key, said in found.items() if said.value.lower() != "unset"}


def given(said: Mapping[str, Said], language: Language) -> Iterator[tuple[str, Given]]:
    """The settings of a language that properties stand for. Raises ConfigError."""
    said = dict(said)
    size, width, kind = said.get("indent_size"), said.get("tab_width"), said.get("indent_style")
    if size is None and kind is not None and kind.value.lower() == "tab":
        size = kind._replace(value="tab")
    if size is not None and size.value.lower() != "tab" and width is None:
        said["tab_width"] = size
    if size is not None and size.value.lower() == "tab":
        said.pop("indent_size", None)
        if width is not None:
            said["indent_size"] = width
    faults = []
    said = _of_every_role(said, language)
    for key, (text, file, line) in said.items():
        name = _NUMBERS.get(key) or (_WORDS[key][0] if key in _WORDS else "")
        value: Value | None = text
        if key == "max_line_length" and text.lower() == "off":
            continue
        if key in _WORDS:
            value = _WORDS[key][1].get(text.lower())
        elif key.startswith(OWN):
            name = key.removeprefix(OWN)
            if name == "style":
                continue
            if name not in language.settings:
                if not is_setting(name):
                    hint = near(name, list(language.settings))
                    faults.append(Fault(file, line, 1, f'unknown setting "{name}"{hint}'))
                continue
        if not name or name not in language.settings:
            continue
        read = None if value is None else language.settings[name].type.read(str(value))
        if read is None:
            if any(fault.line == line and fault.origin == file for fault in faults):
                continue  # said already: a step is a tab's width, too
            permitted = ", ".join(_WORDS[key][1]) if key in _WORDS else language.settings[name].type
            faults.append(Fault(file, line, 1, f'{key} cannot be "{text}"; permitted: {permitted}'))
            continue
        yield name, Given(read, EDITORCONFIG, file, line)
    if faults:
        raise ConfigError(faults)


def _of_every_role(said: Mapping[str, Said], language: Language) -> dict[str, Said]:
    """The same, with what is said of every role written out, before what is said of one."""
    first: dict[str, Said] = {}
    rest: dict[str, Said] = {}
    for key, one in said.items():
        if not key.startswith(f"{OWN}{EVERY}."):
            rest[key] = one
            continue
        for name, _ in meant([(key.removeprefix(OWN), one.value)], language.settings):
            first[f"{OWN}{name}"] = one
    return {**first, **rest}


def export(settings: Mapping[str, Value], values: Mapping[str, Value]) -> list[tuple[str, str]]:
    """Properties that give these settings these values: the standard's where it has one.

    values: those of all settings. Steps and tabs say something of each other in the standard, so
    they are written together.
    """
    settings = dict(settings)
    if not _STEPS.isdisjoint(settings):
        settings.update({name: values[name] for name in sorted(_STEPS)})
    keys = {setting: key for key, setting in _NUMBERS.items()}
    words = {
        (setting, value): (key, word)
        for key, (setting, meanings) in _WORDS.items()
        for word, value in meanings.items()
    }
    found = []
    for name, value in settings.items():
        if name in keys:
            found.append((keys[name], str(value)))
        else:
            found.append(words.get((name, value)) or (f"{OWN}{name}", str(value)))
    return found
