"""Names and values that a shell completes: those that the file or language on its command line has."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING

import click
from click.shell_completion import CompletionItem

from stilo.errors import StiloError

if TYPE_CHECKING:
    from stilo import Language


def settings(ctx: click.Context, param: click.Parameter, incomplete: str) -> list[CompletionItem]:
    """`NAME=` of each setting, and after the sign its values."""
    name, sign, begun = incomplete.partition("=")
    found: dict[str, CompletionItem] = {}
    for language in _languages(ctx):
        if not sign:
            for known, setting in language.settings.items():
                found.setdefault(known, CompletionItem(f"{known}=", help=setting.meaning))
        elif name in language.settings:
            for value in getattr(language.settings[name].type, "permitted", ()):
                found.setdefault(value, CompletionItem(f"{name}={value}"))
    wanted = begun if sign else name
    return [item for known, item in sorted(found.items()) if known.startswith(wanted)]


def names(ctx: click.Context, param: click.Parameter, incomplete: str) -> list[CompletionItem]:
    """The names of settings."""
    known = {name for language in _languages(ctx) for name in language.settings}
    return _beginning(known, incomplete)


def roles(ctx: click.Context, param: click.Parameter, incomplete: str) -> list[CompletionItem]:
    """The roles that have settings, and `common`."""
    known = {n.partition(".")[0] for la in _languages(ctx) for n in la.settings if "." in n}
    return _beginning({"common", *known}, incomplete)


def styles(ctx: click.Context, param: click.Parameter, incomplete: str) -> list[CompletionItem]:
    """The named styles that come with Stilo; and files, since a style may be one."""
    import stilo

    found = _beginning({*stilo.style_names(), "personal", "default"}, incomplete)
    return found or [CompletionItem(incomplete, type="file")]


def languages(ctx: click.Context, param: click.Parameter, incomplete: str) -> list[CompletionItem]:
    """The languages that come with Stilo."""
    import stilo

    return _beginning(set(stilo.language_names()), incomplete)


def _beginning(known: set[str], incomplete: str) -> list[CompletionItem]:
    return [CompletionItem(name) for name in sorted(known) if name.startswith(incomplete)]


def _languages(ctx: click.Context) -> Iterator[Language]:
    """The language that the command line names, or that of its first file; else all."""
    import stilo

    named = ctx.params.get("language")
    said = [ctx.params.get(name) for name in ("files", "file", "place")]
    files = [*(file for file in said if file), *ctx.args]  # where an option's value is missing
    path = files[0] if files else None
    path = path[0] if isinstance(path, tuple) else path
    try:
        if named or path:
            path = str(path or "text").partition(":")[0]
            yield stilo.Styles(None, None, named).of(path).language
            return
    except StiloError:
        pass  # whatever is wrong there, the command itself will say
    for name in stilo.language_names():
        yield stilo.load_language(name)
