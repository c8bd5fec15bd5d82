"""`stilo settings`: every setting with its value and origin."""

from __future__ import annotations

import json
import textwrap
from collections import Counter
from collections.abc import Mapping, Sequence

import click

import stilo
from stilo.cli.find import found
from stilo.cli.options import Wanted
from stilo.cli.telling import printable, tell
from stilo.errors import near
from stilo.sheet.every import EVERY
from stilo.sheet.needs import idle_while
from stilo.sheet.properties import Type, Value, Whole
from stilo.style.schema import entry, matching

#: The most columns that settings are shown in.
ROOM = 100
#: More settings than somebody looks for who wants one.
MANY = 40


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
        if note := idle_note(style.values, name):
            console.print(f"    {note}", markup=False)
    aspects = Counter(name.partition(".")[2] for name in names if "." in name)
    if aspects and len(names) < MANY and aspects.most_common(1)[0][1] > 1:
        aspect = aspects.most_common(1)[0][0]
        tell(f"\nFor every role at once: --set '{EVERY}.{aspect}=VALUE'")
    word = "setting" if len(names) == 1 else "settings"
    console.print(
        f"\n{len(names)} {word} of {style.language.name}; at the default where it does not say from where."
    )


def idle_note(values: Mapping[str, Value], name: str) -> str:
    """That a setting does nothing, and what would have to be otherwise; or ""."""
    other = idle_while(name, values)
    return f"No effect while {other} is {values[other]}." if other else ""


def _range(kind: Type) -> str:
    return f"{kind.least} to {kind.most}" if isinstance(kind, Whole) else "texts separated by |"


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
