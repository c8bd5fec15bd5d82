"""Groups of imports: which one an import belongs to, by the patterns of a style."""

from __future__ import annotations

import re
from collections.abc import Callable
from fnmatch import translate
from functools import lru_cache
from pathlib import PurePosixPath
from typing import NamedTuple

from stilo.order.imports import Import
from stilo.sheet.properties import CLASSES, OWN, PROJECT, RELATIVE, STANDARD

Known = Callable[[str], bool]


class _Pattern(NamedTuple):
    """strength: of those that fit, the strongest counts."""

    strength: tuple[int, int]
    word: str
    fits: Callable[[str], object] | None


def parts(value: str) -> list[str]:
    """The texts of a setting that has several."""
    return [part.strip() for part in value.split("|")] if value else []


@lru_cache(maxsize=64)
def _patterns(value: str, forms: tuple[str, ...]) -> tuple[tuple[_Pattern, ...], ...]:
    return tuple(tuple(_pattern(word, forms) for word in part.split()) for part in parts(value))


def _pattern(word: str, forms: tuple[str, ...]) -> _Pattern:
    if word.startswith(":"):
        name = word[1:]
        strength = (1, -CLASSES.index(name) if name in CLASSES else -9)
        if name in forms or name == OWN:
            strength = (3, int(name == OWN))
        return _Pattern(strength, name, None)
    literal = len(word.replace("*", ""))
    if "*" in word:
        return _Pattern((2 if literal else 0, literal), "", re.compile(translate(word)).match)
    exact = re.compile(rf"{re.escape(word)}([./]|\Z)").match
    return _Pattern((2, literal), "", exact)


def group_of(
    item: Import,
    value: str,
    forms: tuple[str, ...],
    is_standard: Known,
    is_project: Known,
    own: str = "",
) -> int:
    """The number of an import's group; those that no pattern fits are the last.

    own: the name of the file itself, without its ending.
    """
    groups = _patterns(value, forms)
    path = item.path
    best: tuple[int, int] = (-1, 0)
    found = len(groups)
    for number, group in enumerate(groups):
        for strength, word, fits in group:
            if (
                strength > best
                and (
                    fits(path)
                    if fits is not None
                    else _is(item, word, is_standard, is_project, own)
                )
            ):
                best, found = strength, number
    return found


def _is(item: Import, word: str, is_standard: Known, is_project: Known, own: str) -> bool:
    if word == item.form.name:
        return True
    if word == OWN:
        return own != "" and PurePosixPath(item.path).stem == own
    if word == RELATIVE:
        return item.path.startswith(".")
    if word == STANDARD:
        return is_standard(item.path)
    return word == PROJECT and is_project(item.path)
