"""`stilo settings`: every setting with its value and origin, and a place to save one in."""

from __future__ import annotations

import json
import textwrap
from collections.abc import Sequence
from pathlib import Path

import click

import stilo
from stilo.cli.find import found
from stilo.cli.options import Wanted
from stilo.cli.telling import hand_over, printable, tell
from stilo.errors import near
from stilo.paths import shown_path
from stilo.run import write_atomically
from stilo.sheet.properties import Type, Value, Whole
from stilo.style import save
from stilo.style.config import PROJECT_FILE
from stilo.style.given import COMMAND, DIRECTIVE, EDITORCONFIG, LAYERS, PERSONAL, PROJECT
from stilo.style.resolve import personal_path
from stilo.style.schema import entry, matching

#: The most columns that settings are shown in.
ROOM = 100


#: Where a value can be saved → the layer it is in then.
PLACES = {
    "project": PROJECT,
    "personal": PERSONAL,
    "editorconfig": EDITORCONFIG,
    "directive": DIRECTIVE,
}


def chosen(
    path: str | None,
    wanted: Wanted,
    roles: Sequence[str],
    changed: bool,
    matters: bool,
    words: Sequence[str] = (),
) -> tuple[stilo.FileStyle, list[str]]:
    """The style of a file, or of a language, and the settings that the filters leave."""
    if path is None and not (wanted.language or wanted.sheet):
        raise click.UsageError("settings needs a FILE, --language or --sheet")
    style = wanted.styles.of(path or "text")
    names = list(style.language.settings)
    if roles:
        known = ["common", *dict.fromkeys(n.partition(".")[0] for n in names if "." in n)]
        for role in roles:
            if role not in known:
                message = f"--role: {style.language.name} has no role {role!r}{near(role, known)}"
                raise click.UsageError(message)
        names = [name for role in roles for name in matching(style.language, role)]
    if words:
        fitting = found(style.language, words)
        names = [name for name in fitting if name in names]
    if changed:
        names = [n for n in names if style.given(n).value != style.language.settings[n].default]
    if matters or wanted.lines:
        if path is None:
            raise click.UsageError("--matters and --within need a FILE")
        from stilo.calls import read_bytes

        result = stilo.reformat_styled(read_bytes(path), style, lines=wanted.lines, name=path)
        names = [name for name in names if name in result.settings_consulted]
    return style, names


def show(style: stilo.FileStyle, names: Sequence[str], as_json: bool) -> None:
    """Print settings, as a table by role or as JSON."""
    if as_json:
        tell(json.dumps([entry(style, name) for name in names], indent=2))
        return
    from rich.console import Console

    console = Console(highlight=False, soft_wrap=True)
    room = min(console.width, ROOM) - 4
    role = ""
    for name in names:
        setting, given = style.language.settings[name], style.given(name)
        head, dot, _ = name.partition(".")
        if dot and head != role:
            console.print(f"\n{head}: {style.language.roles[head]}", style="bold", markup=False)
        role = head if dot else ""
        others = [str(v) for v in getattr(setting.type, "permitted", ()) if v != given.value]
        also = f"   or {' '.join(others) or _range(setting.type)}"
        is_changed = given.value != setting.default
        console.print(
            printable(f"{name} = {given.value}"),
            style="bold" if is_changed else "",
            end="",
            markup=False,
        )
        console.print(also if len(name) + len(also) + 12 < room else f"\n    {also.strip()}")
        if name in style.origins:
            console.print(printable(f"    from {given.place} ({given.layer})"), markup=False)
        for line in textwrap.wrap(setting.meaning.replace("`", ""), room):
            console.print(f"    {line}", markup=False)
    word = "setting" if len(names) == 1 else "settings"
    console.print(
        f"\n{len(names)} {word} of {style.language.name}; at the default where it does not say from where."
    )


def _range(kind: Type) -> str:
    return f"{kind.least} to {kind.most}" if isinstance(kind, Whole) else "texts separated by |"


def keep(
    path: str | None,
    wanted: Wanted,
    place: str,
    all_changed: bool,
    is_common: bool,
    is_sure: bool,
) -> None:
    """Save what was asked for in a place: show the patch, ask, write.

    That is the values of `--set` and the style of `--style`; or all values that are changed, but in
    another's place none of the personal file.
    """
    style = wanted.styles.of(path or "text")
    mine = {n: g.value for n, g in style.origins.items() if g.layer == COMMAND}
    named = wanted.style if wanted.style not in (PERSONAL, "default") else None
    if all_changed:
        defaults = style.language.defaults()
        mine = {
            name: given.value
            for name, given in style.origins.items()
            if given.value != defaults[name] and (given.layer != PERSONAL or place == PERSONAL)
        }
        named = None  # its values are among these
    elif named and place not in ("project", PERSONAL):
        message = f"a named style cannot be saved in {place}; --changed saves its values there"
        raise click.UsageError(message)
    if not mine and not named:
        message = "--save-in needs values to save: --set NAME=VALUE, or --changed for all there are"
        raise click.UsageError(message)
    target, before, after = _written(path, wanted, place, style, mine, is_common)
    if named:
        after = save.with_style(after, Path(target), named)
    if before == after:
        tell(f"{target}: says so already", err=True)
        return
    from stilo.cli.patch import patch_of

    hand_over(patch_of(before.encode(), after.encode(), str(target)))
    if not is_sure and not click.confirm(f"Write this to {target}?", err=True):
        tell("nothing written", err=True)
        return
    Path(target).parent.mkdir(parents=True, exist_ok=True)
    Path(target).touch()
    write_atomically(target, after.encode())
    tell(f"{target}: written", err=True)
    _warn_of_stronger(path, wanted, place, mine)


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
        if not language.facts.remark:
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
        after = save.into_source(text, wanted.lines[0], mine, language.facts.remark)
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
            save.into_editorconfig(text, globs, mine, style.values)
        )
    if place == "personal":
        target = personal_path()
    else:
        config = wanted.styles.project(Path(path or "text").absolute().parent)
        target = config.path if config is not None else Path(PROJECT_FILE)
    text = _text(target)
    return Path(shown_path(target)), text, save.into_toml(text, target, mine, table)


def _text(path: Path) -> str:
    return path.read_bytes().decode("utf-8-sig") if path.is_file() else ""


def _warn_of_stronger(path: str | None, wanted: Wanted, place: str, mine: dict[str, Value]) -> None:
    """Say where a stronger layer gives a setting another value."""
    from stilo.style import editorconfig

    editorconfig.forget()
    again = stilo.Styles(None, None, wanted.language).of(path or "text")
    for name, value in mine.items():
        given = again.given(name)
        if given.value != value and LAYERS.index(given.layer) > LAYERS.index(PLACES[place]):
            tell(
                f"note: {given.place} ({given.layer}) still gives {name} the value {given.value}",
                err=True,
            )


def show_styles() -> None:
    """Print the named styles, each with the comment it begins with."""
    from importlib import resources

    for name in stilo.style_names():
        text = (resources.files("stilo") / "styles" / f"{name}.toml").read_text("utf-8")
        said = [line.lstrip("# ") for line in text.splitlines() if line.startswith("#")]
        tell(f"{name}\n    " + "\n    ".join(said))


def show_schema() -> None:
    """Print the JSON Schema of `stilo.toml`."""
    from stilo.style.schema import schema

    tell(json.dumps(schema(), indent=2))
