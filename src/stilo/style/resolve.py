"""The style of a file: all layers, nearest last, and what comes of them."""

from __future__ import annotations

import os
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from fnmatch import fnmatchcase
from functools import cached_property, partial
from itertools import chain
from os.path import isfile
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple

from stilo.embed.command import run_command
from stilo.errors import BadSetting, ConfigError, Fault, UnknownLanguage, UnknownSetting
from stilo.language import Language
from stilo.paths import shown_path
from stilo.reading import MOST_SETTINGS, head_of, read_file
from stilo.registry import (
    define_language, is_claimed, is_setting, language_called, language_claiming, language_for_file,
    language_for_first_line, language_names, load_language,
)
from stilo.request import Command, FindInner, Inner
from stilo.sheet.every import meant
from stilo.sheet.properties import Value
from stilo.style.config import (
    GENERATED, PROJECT_FILE, SHARED_FILE, Config, needs_of_project, read_config
)
from stilo.style.given import COMMAND, EDITORCONFIG, PERSONAL, PROJECT, SHEET, Given
from stilo.style.named import read_style

if TYPE_CHECKING:
    from pathspec import GitIgnoreSpec

    from stilo.style.editorconfig import Said

#: The most bytes of a first line that names a program.
MOST_LINE = 200
#: In place of a style's name: the personal file, and none at all.
PERSONAL_STYLE, NO_STYLE = "personal", "default"


@dataclass(frozen=True)
class FileStyle:
    """What holds for a file: its language, the value of every setting, and where each comes from.

    origins has the settings that some layer gives a value; all others have the sheet's default.
    skipped: the place of the pattern by which the file is left alone, or "". path: the file's. inner: finds
    the styles of texts in it.
    """

    language: Language
    values: Mapping[str, Value]
    origins: Mapping[str, Given]
    skipped: str = ""
    path: str = ""
    inner: FindInner | None = field(default=None, compare=False, repr=False)

    def given(self, name: str) -> Given:
        """The value of a setting with the layer and place it comes from."""
        found = self.origins.get(name)
        if found is None:
            setting = self.language.settings[name]
            found = Given(setting.default, SHEET, setting.place.origin, setting.place.line)
        return found


class _Target(NamedTuple):
    """A file: its path as it was given, its folder's whole path, and its name there."""

    shown: str
    folder: Path
    name: str

    @property
    def path(self) -> Path:
        return self.folder / self.name


class Styles:
    """Finds the style of files; keeps what it has read, so one is made for each run.

    settings: values from the command line or a caller, over all other layers. style: lay out by
    this named style alone, in place of what any file says (`personal`: by the personal file alone,
    `default`: by the sheets alone). language: take it for every file. sheet: a sheet for every file.
    commands: names of languages that are none of ours, each with the program and the arguments that lay out
    texts in it, over those of the personal file.
    """

    def __init__(
        self,
        settings: Mapping[str, Value | str] | None = None,
        style: str | None = None,
        language: str | Language | None = None,
        sheet: Path | None = None,
        commands: Mapping[str, Sequence[str]] | None = None,
    ) -> None:
        self._settings = dict(settings or {})
        self._given_commands = {name: tuple(words) for name, words in (commands or {}).items()}
        self._style = style
        self._language = language
        self._sheet = sheet
        #: The whole paths of folders as they were given.
        self._folders: dict[tuple[str, str], Path] = {}
        self._projects: dict[Path, Config | None] = {}
        self._chains: dict[tuple[Given, Path], list[Config]] = {}
        self._languages: dict[tuple[Path, str], Language] = {}
        self._skips: dict[Path, GitIgnoreSpec] = {}
        self._edited: dict[Path, bool] = {}
        self._needed: dict[tuple[str, Path], Mapping[str, Given]] = {}
        self._known: dict[object, FileStyle] = {}
        self._inner_styles: dict[tuple[str, Path], Inner | Command | None] = {}

    def of(self, path: str | Path) -> FileStyle:
        """The style of a file, which need not exist.

        Raises ConfigError for files of settings that are wrong, and what a language's loading
        raises.
        """
        target = self._target(path)
        project = self.project(target.folder)
        language = self._language_of(target, self._configs(project))
        said: dict[str, Said] = {}
        if self._style is None:
            said = self._editorconfig(target)
        needs = self._needs(language, target.folder)
        key = (language, project and project.path, tuple(said.items()), tuple(needs.items()))
        known = self._known.get(key)
        if known is None:
            known = self._known[key] = self._resolve(language, project, said, needs)
        skipped = self._skipped(target, project)
        inner = partial(self._inner, project, target.folder)
        return FileStyle(known.language, known.values, known.origins, skipped, target.shown, inner)

    def _inner(self, project: Config | None, folder: Path, called: str) -> Inner | Command | None:
        """What lays out a text in a file, by what that calls its language: the style of one of ours, else a
        command. EditorConfig speaks of files alone."""
        key = (called, folder)
        if key not in self._inner_styles:
            layers = self._configs(project)
            is_own = any(called in config.sheets for config in layers)
            name = called if is_own else language_called(called)
            found: Inner | Command | None = None
            if name is not None:
                language = self._named(name, layers)
                style = self._resolve(language, project, {}, self._needs(language, folder))
                found = Inner(style.language, style.values, style.origins)
            elif (words := self._commands.get(called)) is not None:
                found = Command(called, partial(run_command, words))
            self._inner_styles[key] = found
        return self._inner_styles[key]

    @cached_property
    def _commands(self) -> Mapping[str, tuple[str, ...]]:
        """The user's own commands, by the names of languages. What a repository says is never run."""
        own = {} if self.personal is None else self.personal.commands
        return {**own, **self._given_commands}

    def skipped(self, path: str | Path) -> str:
        """The place of the pattern by which a file is to be left alone, or ""."""
        target = self._target(path)
        return self._skipped(target, self.project(target.folder))

    def marks_of_generated(self, path: str | Path) -> tuple[str, ...]:
        """The words, in small letters, that mark files made by a program, where a file is."""
        project = self.project(self._target(path).folder)
        return GENERATED if project is None else project.generated

    def language_name(self, path: str | Path) -> str:
        """The name of the language that a file is in, which need not be loaded. Raises UnknownLanguage."""
        if self._sheet is not None or self._language is not None:
            return self.of(path).language.name
        target = self._target(path)
        return self._name_of(target, self._configs(self.project(target.folder)))

    def _target(self, path: str | Path) -> _Target:
        shown = os.fspath(path)
        folder, name = os.path.split(shown)
        key = (folder, "" if folder[:1] == os.sep else os.getcwd())
        known = self._folders.get(key)
        if known is None:
            known = self._folders[key] = Path(os.path.abspath(folder))
        if name in ("", ".", ".."):  # of a folder
            whole = Path(os.path.abspath(shown))
            known, name = whole.parent, whole.name
        return _Target(shown, known, name)

    def _configs(self, project: Config | None) -> list[Config]:
        """The files of settings that say which language a file is in."""
        return [config for config in (project or self.personal,) if config is not None]

    def _resolve(
        self,
        language: Language,
        project: Config | None,
        said: Mapping[str, Said],
        needs: Mapping[str, Given],
    ) -> FileStyle:
        values = language.defaults()
        origins: dict[str, Given] = {}
        for name, given in chain(needs.items(), self._layers(language, project, said)):
            read = language.settings[name].type.read(str(given.value))
            if read is None:  # another language permits it
                permitted = str(language.settings[name].type)
                raise BadSetting(given.place, name, str(given.value), permitted)
            values[name] = read
            origins[name] = given._replace(value=read)
        return FileStyle(language.knowing(values), values, origins)

    def _layers(
        self, language: Language, project: Config | None, said: Mapping[str, Said]
    ) -> Iterator[tuple[str, Given]]:
        """What each layer gives, the weakest first."""
        if self._style in (None, PERSONAL_STYLE):
            # One project, one result: the personal file counts where nothing else does, or by name.
            is_alone = self._style == PERSONAL_STYLE or project is None and not said
            files = [self.personal if is_alone else None, project if self._style is None else None]
            asking: list[tuple[Given, Path]] = []
            for number, config in enumerate(files):
                if number and (own := said.get("stilo.style")):
                    given = Given(own.value, EDITORCONFIG, own.file, own.line)
                    asking.append((given, Path(own.file).parent))
                if config is not None and config.style is not None:
                    asking.append((config.style, config.folder))
            if asking:
                for config in self._chain(*asking[-1]):
                    yield from config.given(language)
            if files[0] is not None:
                yield from files[0].given(language)
            if said:
                from stilo.style import editorconfig

                yield from editorconfig.given(said, language)
            if files[1] is not None:
                yield from files[1].given(language)
        elif self._style != NO_STYLE:
            assert self._style is not None
            asked = Given(self._style, COMMAND, "--style", 0)
            for config in self._chain(asked, Path.cwd()):
                yield from config.given(language)
        for name, value in meant(self._settings, language.settings):
            setting = language.settings.get(name)
            if setting is None:
                if is_setting(name):
                    continue  # of another language
                raise UnknownSetting("--set", name, list(language.settings))
            read = setting.type.read(str(value))
            if read is None:
                raise BadSetting("--set", name, str(value), str(setting.type))
            yield name, Given(read, COMMAND, "--set", 0)

    def _chain(self, asked: Given, folder: Path) -> list[Config]:
        key = (asked, folder)
        if key not in self._chains:
            self._chains[key] = read_style(asked, folder)
        return self._chains[key]

    @cached_property
    def personal(self) -> Config | None:
        """The personal file, in the platform's folder for configuration."""
        try:
            path = personal_path()
        except ConfigError:
            return None  # nobody has a home here, so nobody has a file there
        return read_config(path, PERSONAL) if isfile(path) else None

    def project(self, folder: Path) -> Config | None:
        """The nearest file of settings of a project, in a folder or above it."""
        if folder not in self._projects:
            found = self._project_in(folder)
            if found is None and folder.parent != folder:
                found = self.project(folder.parent)
            self._projects[folder] = found
        return self._projects[folder]

    def _needs(self, language: Language, folder: Path) -> Mapping[str, Given]:
        """What follows for a language from the nearest project's description of itself."""
        if language.support.project_settings is None:
            return {}
        key = (language.name, folder)
        if key not in self._needed:
            path = folder / SHARED_FILE
            if isfile(path):
                self._needed[key] = needs_of_project(path, language.support.project_settings)
            elif folder.parent != folder:
                self._needed[key] = self._needs(language, folder.parent)
            else:
                self._needed[key] = {}
        return self._needed[key]

    def _editorconfig(self, target: _Target) -> dict[str, Said]:
        """What EditorConfig says of a file; costs no import where there is no such file."""
        if not self._has_editorconfig(target.folder):
            return {}
        from stilo.style import editorconfig

        return editorconfig.properties(target.path)

    def _has_editorconfig(self, folder: Path) -> bool:
        if folder not in self._edited:
            above = folder.parent != folder and self._has_editorconfig(folder.parent)
            self._edited[folder] = above or isfile(folder / ".editorconfig")
        return self._edited[folder]

    @staticmethod
    def _project_in(folder: Path) -> Config | None:
        for name in (PROJECT_FILE, SHARED_FILE):
            path = folder / name
            if isfile(path):
                found = read_config(path, PROJECT, shown_path(path))
                if found is not None:
                    return found
        return None

    def _skipped(self, target: _Target, project: Config | None) -> str:
        if project is None or not project.skip:
            return ""
        spec = self._skips.get(project.path)
        if spec is None:
            from pathspec import GitIgnoreSpec

            spec = self._skips[project.path] = GitIgnoreSpec.from_lines(project.skip)
        inside = os.path.relpath(target.path, os.path.abspath(project.folder))
        return f"{project.shown}:{project.skip_line}" if spec.match_file(inside) else ""

    # languages

    def _language_of(self, target: _Target, layers: list[Config]) -> Language:
        """The language of a file: as asked for, by the files of settings, or by its name."""
        if self._sheet is not None:
            key = (self._sheet, str(self._language or ""))
            if key not in self._languages:
                self._languages[key] = self._by_sheet(self._sheet, target, layers)
            return self._languages[key]
        if isinstance(self._language, Language):
            return self._language
        return self._named(self._language or self._name_of(target, layers), layers)

    def _by_sheet(self, sheet: Path, target: _Target, layers: list[Config]) -> Language:
        on = self._language if isinstance(self._language, str) else None
        from stilo.sheet.parse import read_facts

        if on is None:
            try:
                text = read_file(sheet, MOST_SETTINGS).decode()
            except (OSError, UnicodeDecodeError):
                text = ""  # the error is told where the sheet is read in earnest
            facts = read_facts(text, str(sheet))
            if text and "grammar" not in facts.facts and not facts.language:
                on = self._name_of(target, layers)
        return define_language(sheet, on)

    def _name_of(self, target: _Target, layers: list[Config]) -> str:
        for config in reversed(layers):
            inside = ""
            for pattern, language in reversed(list(config.files.items())):
                inside = inside or os.path.relpath(target.path, os.path.abspath(config.folder))
                if fnmatchcase(inside if "/" in pattern else target.name, pattern):
                    return language
            for name in config.sheets:
                facts = self._named(name, layers).facts
                is_named = any(fnmatchcase(target.name, glob) for glob in facts.globs)
                if is_named or is_claimed(target.path, facts.claims):
                    return name
        try:
            named = language_for_file(target.shown)
            return language_claiming(target.path) or named
        except UnknownLanguage:
            suffix = os.path.splitext(target.name)[1]
            known = None if suffix else language_for_first_line(_first_line(target.path))
            if known is None:
                raise
            return known

    def _named(self, name: str, layers: list[Config]) -> Language:
        for config in reversed(layers):
            path = config.sheets.get(name)
            if path is not None:
                key = (path, name)
                if key not in self._languages:
                    on = name if name in language_names() else None
                    self._languages[key] = define_language(path, on)
                return self._languages[key]
        return load_language(name)


def _first_line(path: Path) -> bytes:
    return head_of(path, MOST_LINE).partition(b"\n")[0]


def personal_path() -> Path:
    """Where the personal file is, if there is one. Raises ConfigError where the user has no home."""
    from platformdirs import user_config_path

    try:
        path = user_config_path("stilo", appauthor=False) / PROJECT_FILE
    except RuntimeError:
        path = Path(PROJECT_FILE)
    if not path.is_absolute():  # it would be somebody else's
        message = "there is no home folder for a personal file; set HOME or XDG_CONFIG_HOME"
        raise ConfigError([Fault("personal file", 1, 1, message)])
    return path
