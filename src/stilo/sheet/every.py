"""One name for several settings: `*.close` stands for the `close` of every role that has it."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from stilo.sheet.parse import Setting

#: What stands for every role.
EVERY = "*"


def meant(
    style: Mapping[str, object] | Iterable[tuple[str, object]], settings: Mapping[str, Setting]
) -> list[tuple[str, object]]:
    """A style with what is said of every role written out, before what is said of one.

    Of a role that may not have the value nothing is said, unless none may: then the first is named, so
    that the error can say what is permitted. A name that stands for nothing stays as it is.
    """
    given = list(style.items() if isinstance(style, Mapping) else style)
    found: list[tuple[str, object]] = []
    for name, value in sorted(given, key=lambda pair: not pair[0].startswith(f"{EVERY}.")):
        names = of_every_role(name, settings)
        fitting = [n for n in names if settings[n].type.read(str(value)) is not None]
        found += [(known, value) for known in fitting or names[:1] or [name]]
    return found


def of_every_role(name: str, settings: Iterable[str]) -> list[str]:
    """The settings that `*.aspect` stands for; none for another name."""
    every, _, aspect = name.partition(".")
    if every != EVERY:
        return []
    return [known for known in settings if "." in known and known.partition(".")[2] == aspect]
