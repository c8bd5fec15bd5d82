"""`stilo settings --save-in`: save values in a place, or take them out of it."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

import click

import stilo
from stilo.cli.options import Wanted
from stilo.cli.place import PLACES
from stilo.cli.telling import hand_over, tell
from stilo.errors import near
from stilo.paths import shown_path
from stilo.run.files import write_new
from stilo.sheet.every import of_every_role
from stilo.sheet.needs import idle_while
from stilo.sheet.properties import Value
from stilo.style import save
from stilo.style.config import PROJECT_FILE
from stilo.style.given import COMMAND, EDITORCONFIG, PERSONAL
from stilo.style.resolve import personal_path


def keep(
    path: str | None,
    wanted: Wanted,
    place: str,
    all_changed: bool,
    is_common: bool,
    is_sure: bool,
    taken_back: Sequence[str] = (),
) -> None:
    """Save what was asked for in a place: show the patch, ask, write.

    That is the values of `--set` and the style of `--style`; or all values that are changed, but in
    another's place none of the personal file. In a file for a style always all that are changed.
    taken_back: settings whose saved values go.
    """
    if path is None and not (wanted.language or wanted.sheet):
        raise click.UsageError("--save-in needs a FILE, --language or --sheet")
    style = wanted.styles.of(path or "text")
    if taken_back:
        target, before, after = _taken_back(path, wanted, place, style, taken_back, is_common)
        _write(target, before, after, is_sure)
        _tell_rest(path, wanted, taken_back)
        return
    mine = {n: g.value for n, g in style.origins.items() if g.layer == COMMAND}
    named = wanted.style if wanted.style not in (PERSONAL, "default") else None
    if all_changed or place not in PLACES:
        defaults = style.language.defaults()
        mine = {
            name: given.value
            for name, given in style.origins.items()
            if given.value != defaults[name]
                and (given.layer != PERSONAL or place == PERSONAL or place not in PLACES)
        }
        named = None  # its values are among these
    elif named and place not in ("project", PERSONAL):
        message = f"a named style cannot be saved in {place}; --changed saves its values there"
        raise click.UsageError(message)
    if not mine and not named:
        message = "--save-in needs values to save: --set NAME=VALUE, or --changed for all there are"
        raise click.UsageError(message)
    said = mine if all_changed or place not in PLACES else _as_said(wanted, style, mine)
    target, before, after = _written(path, wanted, place, style, said, is_common)
    if named:
        after = save.with_style(after, Path(target), named)
    if not _write(target, before, after, is_sure):
        return
    if place in PLACES:
        _tell_hidden(path, wanted, mine)
        if is_common and place in ("project", "personal"):
            _tell_hiding_tables(target, after, mine, style.language.name)
    else:
        tell(f"use it with --style {target}, or style = \"{target}\" in stilo.toml", err=True)


def _as_said(wanted: Wanted, style: stilo.FileStyle, mine: dict[str, Value]) -> dict[str, Value]:
    """The values to save as they were asked for: what is said of every role in one line."""
    said = dict(mine)
    for name in wanted.settings:
        every = of_every_role(name, style.language.settings)
        one = next((n for n in every if n in mine and n not in wanted.settings), None)
        if one is not None:
            said = {n: v for n, v in said.items() if n not in every or n in wanted.settings}
            said = {name: mine[one], **said}
    return said


def _write(target: Path, before: str, after: str, is_sure: bool) -> bool:
    """Show what changes in a file, ask, and write it. Returns whether it was written."""
    if before == after:
        tell(f"{target}: says so already", err=True)
        return False
    from stilo.cli.patch import patch_of

    hand_over(patch_of(before.encode(), after.encode(), str(target)))
    if not is_sure and not click.confirm(f"Write this to {target}?", err=True):
        tell("nothing written", err=True)
        return False
    write_new(target, after.encode())
    tell(f"{target}: written", err=True)
    return True


def _taken_back(
    path: str | None,
    wanted: Wanted,
    place: str,
    style: stilo.FileStyle,
    names: Sequence[str],
    is_common: bool,
) -> tuple[Path, str, str]:
    """The file in which some settings lose their saved values, its text, and the text without them."""
    if wanted.given:
        raise click.UsageError("--take-back and --set exclude each other; run one after the other")
    if place == "directive":
        raise click.UsageError("take the two comments of a directive out in your editor")
    known = [*style.language.settings, *(["style"] if place != "editorconfig" else [])]
    for name in names:
        if name not in known and not of_every_role(name, known):
            raise click.UsageError(f"--take-back: no setting {name!r}{near(name, known)}")
    if place == "editorconfig":
        return _taken_from_editorconfig(style, names)
    target = _target(path, wanted, place)
    text = before = _text(target)
    for name in names:
        tables = [None] if is_common or name == "style" else [style.language.name, None]
        after = save.without(text, target, name, tables)
        if after is None:
            raise click.UsageError(
                f"{shown_path(target)} gives {name} no value{_from(style, name)}"
            )
        text = after
    return Path(shown_path(target)), before, text


def _taken_from_editorconfig(style: stilo.FileStyle, names: Sequence[str]) -> tuple[Path, str, str]:
    given = [style.given(name) for name in names]
    for name, found in zip(names, given):
        if found.layer != EDITORCONFIG or found.file != given[0].file:
            raise click.UsageError(
                f"no EditorConfig file gives {name} its value{_from(style, name)}"
            )
    target = Path(given[0].file)
    text = before = _text(target)
    for line in sorted({found.line for found in given}, reverse=True):
        text = save.without_line(text, line)
    return target, before, text


def _from(style: stilo.FileStyle, name: str) -> str:
    """Where a setting's value comes from, to end a message with."""
    if name not in style.origins:
        return "" if name == "style" else "; it is at its default"
    return f"; it comes from {style.origins[name].place}"


def _tell_rest(path: str | None, wanted: Wanted, names: Sequence[str]) -> None:
    """Say what values some settings have, now that saved ones were taken back."""
    again = _again(path, wanted)
    for name in names:
        if name in again.language.settings:
            given = again.given(name)
            where = f"{given.place} ({given.layer})" if name in again.origins else "the default"
            tell(f"{name} is {given.value} now, from {where}", err=True)


def _written(
    path: str | None,
    wanted: Wanted,
    place: str,
    style: stilo.FileStyle,
    mine: dict[str, Value],
    is_common: bool,
) -> tuple[Path, str, str]:
    """The file to write, its text and the text it is to have."""
    language = style.language
    if place == "directive":
        if path is None or wanted.lines is None or len(wanted.lines) > 1:
            raise click.UsageError("a directive needs a FILE and --within N-M")
        if not language.facts.comment_signs:
            raise click.UsageError(
                f"{language.name} has no comments that a directive could stand in"
            )
        if language.facts.is_notebook(path):
            raise click.UsageError("in a notebook, write the directive into the cell yourself")
        from stilo.calls import read_bytes
        from stilo.source import Source

        source = Source.from_bytes(read_bytes(path), path)
        source.has_lines(wanted.lines)
        text = source.raw.decode()
        after = save.into_source(text, wanted.lines[0], mine, language.facts.comment_signs)
        plain = stilo.Styles(None, wanted.style, wanted.language).of(path)
        result = stilo.reformat_styled(after, plain, name=path)  # raises where it cannot stand there
        if isinstance(result, stilo.Result) and not result.directives.regions:
            where = f"lines {wanted.lines[0][0]} to {wanted.lines[0][1]}"
            raise stilo.OutOfRange(path, "place for a directive", f"{where} are within other text")
        return Path(path), text, after
    table = None if is_common else language.name
    if place == "editorconfig":
        folder = Path(path or "text").absolute().parent
        found = [f / ".editorconfig" for f in (folder, *folder.parents)]
        target = next((f for f in found if f.is_file()), Path(".editorconfig"))
        text = _text(target)
        globs = ["*"] if is_common else list(language.facts.globs)
        return (
            Path(shown_path(target)),
            text,
            save.into_editorconfig(text, globs, mine, style.values),
        )
    target = _target(path, wanted, place)
    text = _text(target)
    return Path(shown_path(target)), text, save.into_toml(text, target, mine, table)


def _target(path: str | None, wanted: Wanted, place: str) -> Path:
    """The file of settings that a place stands for."""
    if place not in PLACES:
        return Path(place)
    if place == "personal":
        return personal_path()
    config = wanted.styles.project(Path(path or "text").absolute().parent)
    return config.path if config is not None else Path(PROJECT_FILE)


def _text(path: Path) -> str:
    return path.read_bytes().decode("utf-8-sig") if path.is_file() else ""


def _again(path: str | None, wanted: Wanted) -> stilo.FileStyle:
    """The style of a file, read anew."""
    from stilo.style import editorconfig

    editorconfig.forget()
    return stilo.Styles(None, None, wanted.language).of(path or "text")


def _tell_hiding_tables(target: Path, text: str, mine: dict[str, Value], known: str) -> None:
    """Say which tables of other languages give a setting another value than was saved for all.

    known: the language of which that has been said.
    """
    for name, value in mine.items():
        for language in save.hiding_tables(text, target, name, value):
            if language != known:
                tell(f"note: [{language}] in {target} gives {name} another value", err=True)


def _tell_hidden(path: str | None, wanted: Wanted, mine: dict[str, Value]) -> None:
    """Say where something stronger gives a setting another value than was saved."""
    again = _again(path, wanted)
    for name, value in mine.items():
        given = again.given(name)
        if given.value != value:
            tell(
                f"note: {given.place} ({given.layer}) still gives {name} the value {given.value}",
                err=True,
            )
        elif other := idle_while(name, again.values):
            tell(f"note: {name} has no effect while {other} is {again.values[other]}", err=True)
