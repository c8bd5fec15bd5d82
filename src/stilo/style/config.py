"""Files of settings: `stilo.toml`, a table in `pyproject.toml`, the personal file, a style.

All have one form. Common settings stand at the top, `width = 88` or `arguments.wrap = "row"`;
those of one language in a table of its name. `style` names the style to start from. A project's
file may also say `skip` (patterns of files left alone), `files` (patterns → language) and `sheets`
(language → a sheet of one's own).
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from stilo.errors import ConfigError, Fault, StiloError, near
from stilo.language import Language
from stilo.paths import shown_path
from stilo.reading import MOST_SETTINGS, read_file
from stilo.registry import define_language, language_names, load_language
from stilo.sheet.every import EVERY, of_every_role
from stilo.sheet.parse import Setting
from stilo.sheet.properties import Parts, Value, Whole
from stilo.source import Position
from stilo.style.given import NAMED, PROJECT, Given
from stilo.style.toml import key_places, read_toml

#: What a file of settings may say beside settings.
KEYS = {
    "style": "the named style to start from: one of ours, a TOML file, or package:name",
    "skip": "patterns of files that are left alone, as in a list of ignored files, from this folder",
    "files": "patterns of files, each with the language it is in",
    "sheets": "languages, each with the file of a sheet that defines it or adds rules to it",
}

#: After so many faults no more are looked for.
MOST_FAULTS = 100
PROJECT_FILE = "stilo.toml"
#: The file that other tools of a project share (PEP 518), and the table in it that is ours.
SHARED_FILE, SHARED_TABLE = "pyproject.toml", ("tool", "stilo")


@dataclass(frozen=True)
class Config:
    """A file of settings as read and checked.

    common: setting → what it is given for every language that has it; by_language: the same for
    one. shown: what messages call the file. sheets: language → path.
    """

    path: Path
    shown: str
    layer: str
    style: Given | None = None
    common: Mapping[str, Given] = field(default_factory=dict)
    by_language: Mapping[str, Mapping[str, Given]] = field(default_factory=dict)
    skip: tuple[str, ...] = ()
    skip_line: int = 0
    files: Mapping[str, str] = field(default_factory=dict)
    sheets: Mapping[str, Path] = field(default_factory=dict)

    @property
    def folder(self) -> Path:
        """Where its patterns and paths begin."""
        return self.path.parent

    def given(self, language: Language) -> Iterator[tuple[str, Given]]:
        """What it gives to the settings that a language has, the weaker first."""
        for source in (self.common, self.by_language.get(language.name, {})):
            for name, given in source.items():
                setting = language.settings.get(name)
                # What is said to all languages may mean nothing in one.
                if setting is not None and setting.type.read(str(given.value)) is not None:
                    yield name, given


def read_config(path: Path, layer: str, shown: str | None = None) -> Config | None:
    """Read and check a file of settings. None for a `pyproject.toml` that has no table of ours.

    shown: what messages call the file. Raises ConfigError with all its faults.
    """
    name = shown or str(path)
    text = read_text(path, name)
    document = read_toml(text, name)
    above: tuple[str, ...] = ()
    places = key_places(text)
    if path.name == SHARED_FILE:
        above = SHARED_TABLE
        for number, word in enumerate(above, 1):
            document = document.get(word, {})
            if not isinstance(document, dict):
                at = places.get(above[:number], Position(1, 1))
                message = f"{'.'.join(above[:number])} is a table, not {_shown(document)}"
                raise ConfigError([Fault(name, *at, message)])
        if not document:
            return None
    places = {key[len(above):]: place for key, place in places.items() if key[:len(above)] == above}
    reader = _Reader(path, layer, name, places)
    config = reader.read(document)
    if reader.faults:
        raise ConfigError(sorted(reader.faults, key=lambda f: (f.line, f.column)))
    return config


def read_text(path: Path, name: str) -> str:
    """The text of a file of settings. Raises ConfigError."""
    try:
        return read_file(path, MOST_SETTINGS).decode("utf-8-sig")
    except OSError as error:
        raise ConfigError([Fault(name, 1, 1, f"cannot be read: {error.strerror}")]) from error
    except UnicodeDecodeError as error:
        raise ConfigError([Fault(name, 1, 1, "not UTF-8, as TOML is")]) from error


def needs_of_project(
    path: Path, settings: Callable[[Mapping[str, Any]], Mapping[str, str]]
) -> dict[str, Given]:
    """The settings that follow from a project's description of itself; none if it cannot be read.

    It is another program's file, so what is wrong with it is no concern here.
    """
    try:
        found = settings(read_toml(read_text(path, str(path)), str(path)))
    except ConfigError:
        return {}
    return {name: Given(value, PROJECT, shown_path(path), 1) for name, value in found.items()}


@dataclass
class _Known:
    """The settings that one language has, or some of all; loaded only so far as asked."""

    loaders: Sequence[Callable[[], Language]]
    language: str = ""

    def get(self, name: str) -> Setting | None:
        """The setting of a name, in the first language that has it."""
        return next(self.each(name), None)

    def each(self, name: str) -> Iterator[Setting]:
        """The setting of a name, in each language that has it."""
        return (s for load in self.loaders if (s := load().settings.get(name)) is not None)

    def value(self, name: str, value: object) -> Value | None:
        """A TOML value as one of a setting, if some language permits it."""
        read = (value_of(setting, value) for setting in self.each(name))
        return next((found for found in read if found is not None), None)

    def names(self) -> list[str]:
        """All names of settings."""
        return list(dict.fromkeys(name for load in self.loaders for name in load().settings))

    def roles(self) -> list[str]:
        """All roles that have settings."""
        return list(dict.fromkeys(name.partition(".")[0] for name in self.names() if "." in name))

    def has_role(self, role: str) -> bool:
        """Whether some language gives a node a role, or has settings of it."""
        return any(role in load().used_roles for load in self.loaders) or role in self.roles()


@dataclass
class _Reader:
    """Takes a document in, collecting what is wrong with it."""

    path: Path
    layer: str
    name: str
    places: Mapping[tuple[str, ...], Position]
    faults: list[Fault] = field(default_factory=list)

    def read(self, document: Mapping[str, Any]) -> Config:
        """The whole document."""
        own = self._sheets(document.get("sheets", {}))
        languages = self._languages(own)
        style = document.get("style")
        if style is not None and not isinstance(style, str):
            self._fault(("style",), f"style takes a name or a path in quotes, not {_shown(style)}")
            style = None
        common: dict[str, Given] = {}
        by_language: dict[str, dict[str, Given]] = {}
        for key, value in _every_role_first(document):
            if len(self.faults) > MOST_FAULTS:
                break
            if key in KEYS:
                is_project = self.path.name in (PROJECT_FILE, SHARED_FILE)
                if self.layer == NAMED and key != "style" and not is_project:
                    self._fault((key,), f"{key} belongs in a project's file, not in a style")
                continue
            if key in languages:
                if not isinstance(value, dict):
                    self._fault((key,), f"{key} is a language; its settings stand in [{key}]")
                    continue
                known = _Known([languages[key]], key)
                by_language[key] = dict(self._settings((key,), value, known))
            else:
                common.update(self._settings((), {key: value}, _Known(list(languages.values()))))
        at = self.places.get(("style",), Position(0, 0))
        return Config(
            self.path,
            self.name,
            self.layer,
            None if style is None else Given(style, self.layer, self.name, at.line),
            common,
            by_language,
            self._patterns(document.get("skip", [])),
            self.places.get(("skip",), Position(0, 0)).line,
            self._files(document.get("files", {}), languages),
            own,
        )

    def _fault(self, key: tuple[str, ...], message: str) -> None:
        at = next(
            (self.places[key[:n]] for n in range(len(key), 0, -1) if key[:n] in self.places),
            Position(1, 1),
        )
        self.faults.append(Fault(self.name, at.line, at.column, message))

    def _languages(self, own: Mapping[str, Path]) -> dict[str, Callable[[], Language]]:
        """Every language's name, with how to get at it."""
        found: dict[str, Callable[[], Language]] = {
            name: lambda name=name: load_language(name)  # type: ignore[misc]
            for name in language_names()
        }
        for name, path in own.items():
            try:
                language = define_language(path, name if name in found else None)
            except StiloError as error:
                self._fault(("sheets", name), " ".join(str(error).splitlines()[:1]))
                continue
            if language.name != name:
                self._fault(("sheets", name), f"this sheet is of {language.name}, not of {name}")
                continue
            found[name] = lambda language=language: language  # type: ignore[misc]
        return found

    def _settings(
        self, above: tuple[str, ...], table: Mapping[str, Any], known: _Known
    ) -> Iterator[tuple[str, Given]]:
        """All settings of a table: `a = 1`, `role.aspect = …`, or a table of a role's aspects."""
        for key, value in _every_role_first(table):
            if len(self.faults) > MOST_FAULTS:
                return
            if key == EVERY and isinstance(value, dict):
                for aspect, inner in value.items():
                    yield from self._of_every_role((*above, key, aspect), inner, known)
            elif key.startswith(f"{EVERY}."):
                yield from self._of_every_role((*above, key), value, known)
            elif not isinstance(value, dict):
                yield from self._setting((*above, key), key, value, known)
            elif known.has_role(key):
                for aspect, inner in value.items():
                    yield from self._setting((*above, key, aspect), f"{key}.{aspect}", inner, known)
            else:
                offered = [*known.roles(), *(() if above else (*KEYS, *language_names()))]
                message = f'unknown table or role "{key}"{near(key, offered)}'
                self._fault((*above, key), message)

    def _of_every_role(
        self, key: tuple[str, ...], value: object, known: _Known
    ) -> Iterator[tuple[str, Given]]:
        """A value for one aspect of every role that may have it."""
        asked = f"{EVERY}.{key[-1].removeprefix(f'{EVERY}.')}"
        names = of_every_role(asked, known.names())
        fitting = [name for name in names if known.value(name, value) is not None]
        for name in fitting or names[:1] or [asked]:
            yield from self._setting(key, name, value, known)

    def _setting(
        self, key: tuple[str, ...], name: str, value: object, known: _Known
    ) -> Iterator[tuple[str, Given]]:
        setting = known.get(name)
        if setting is None:
            offered = [*known.names(), *(KEYS if len(key) == 1 else ())]
            of = f" of {known.language}" if known.language else ""
            self._fault(key, f'unknown setting "{name}"{of}{near(name, offered)}')
            return
        read = known.value(name, value)
        if read is None:
            hint = _near_value(setting, value)
            self._fault(
                key, f"{name} cannot be {_shown(value)}{hint}; permitted: {_permitted(setting)}"
            )
            return
        place = self.places.get(key, Position(0, 0))
        yield name, Given(read, self.layer, self.name, place.line)

    def _patterns(self, value: object) -> tuple[str, ...]:
        if isinstance(value, list) and all(isinstance(item, str) for item in value):
            return tuple(item for item in value if self._is_pattern(item))
        self._fault(("skip",), f"skip takes a list of patterns in quotes, not {_shown(value)}")
        return ()

    def _is_pattern(self, text: str) -> bool:
        """Whether a text is a pattern of files, as lists of ignored files have them."""
        from pathspec import GitIgnoreSpec

        try:
            GitIgnoreSpec.from_lines([text])
        except (ValueError, re.error) as error:
            self._fault(("skip",), f"skip: {_shown(text)} is no pattern of files: {error}")
            return False
        return True

    def _files(self, value: object, languages: Mapping[str, object]) -> dict[str, str]:
        if not isinstance(value, dict):
            self._fault(("files",), f"files is a table of patterns, not {_shown(value)}")
            return {}
        found = {}
        for pattern, language in value.items():
            if not isinstance(language, str) or language not in languages:
                hint = near(str(language), list(languages))
                self._fault(("files", pattern), f"no language is called {_shown(language)}{hint}")
            else:
                found[pattern] = language
        return found

    def _sheets(self, value: object) -> dict[str, Path]:
        if not isinstance(value, dict):
            self._fault(("sheets",), f"sheets is a table of languages, not {_shown(value)}")
            return {}
        found = {}
        for language, path in value.items():
            if not isinstance(path, str):
                self._fault(("sheets", language), f"takes a path in quotes, not {_shown(path)}")
            else:
                found[language] = self.path.parent / path
        return found


def _every_role_first(table: Mapping[str, Any]) -> list[tuple[str, Any]]:
    """The keys of a table and their values: what is said of every role before what is said of one."""
    return sorted(table.items(), key=lambda pair: pair[0].partition(".")[0] != EVERY)


def value_of(setting: Setting, value: object) -> Value | None:
    """A TOML value as one of a setting, or None if it is not permitted."""
    if isinstance(value, list) and isinstance(setting.type, Parts):
        if not all(isinstance(item, str) and "|" not in item for item in value):
            return None
        value = " | ".join(value)
    if isinstance(value, list):
        return None
    if isinstance(setting.type, Whole) != (isinstance(value, int) and not isinstance(value, bool)):
        return None
    return setting.type.read(str(value))


def _permitted(setting: Setting) -> str:
    words: Sequence[str] = getattr(setting.type, "permitted", ())
    return ", ".join(f'"{word}"' for word in words) or str(setting.type)


def _near_value(setting: Setting, value: object) -> str:
    if isinstance(value, bool):
        word = "yes" if value else "no"
        return f'; did you mean "{word}"?' if setting.type.read(word) is not None else ""
    return near(str(value), getattr(setting.type, "permitted", ()))


def _shown(value: object) -> str:
    if isinstance(value, bool):
        return "true" if value else "false"
    if isinstance(value, str):
        return f'"{value}"'
    if isinstance(value, dict):
        return "a table"
    return "a list" if isinstance(value, list) else str(value)
