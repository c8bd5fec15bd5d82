"""What a style says of the order of imports."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from itertools import groupby
from typing import Any

from stilo.language import Language
from stilo.order.groups import Known, group_of, parts
from stilo.order.imports import Import
from stilo.order.keys import KEYS, Key, path_key
from stilo.order.project import Project
from stilo.records import dataclass
from stilo.sheet.properties import STANDARD, Value


@dataclass(frozen=True)
class Order:
    """What a style says about imports, and how to ask what cannot be seen in them.

    comment_signs: what stands before, and after, the words of a comment. own: the file's name, without its ending.
    """

    values: Mapping[str, Value]
    forms: tuple[str, ...]
    is_standard: Known
    is_project: Known
    comment_signs: tuple[str, ...]
    own: str = ""

    def group(self, item: Import) -> int:
        """The number of an import's group."""
        groups = str(self.values["import.groups"])
        return group_of(item, groups, self.forms, self.is_standard, self.is_project, self.own)

    def key(self, item: Import) -> Any:
        """What an import is sorted by within its group."""
        sort = str(self.values["import.sort"])
        name = self.name_key
        rank = self.forms.index(item.form.name) if self.values["import.forms"] == "apart" else 0
        return (
            item.moves != "first",
            rank,
            path_key(item.path, sort),
            self.forms.index(item.form.name),
            [(name(e.name), name(e.alias)) for e in item.entries],
        )

    def free(self, run: Sequence[Import]) -> list[Sequence[Import]]:
        """The parts of a run in which imports may change places: all of it, or those of the language's own
        library that stand together."""
        if self.values["import.order"] != STANDARD:
            return [run]
        together = groupby(run, lambda item: self.is_standard(item.path))
        return [list(items) for is_free, items in together if is_free]

    @property
    def name_key(self) -> Key:
        """What names within an import are sorted by."""
        return KEYS[str(self.values["import.sort"])]

    def header(self, group: int) -> bytes:
        """The comment that stands above a group, or nothing."""
        headers = parts(str(self.values["import.headers"]))
        if group >= len(headers) or not headers[group] or not self.comment_signs:
            return b""
        return " ".join([self.comment_signs[0], headers[group], *self.comment_signs[1:]]).encode()

    def headers(self) -> frozenset[bytes]:
        """All such comments."""
        count = len(parts(str(self.values["import.headers"])))
        return frozenset(self.header(group) for group in range(count)) - {b""}


def order_of(language: Language, values: Mapping[str, Value], project: Project | None) -> Order:
    """What a style says of imports in a language."""

    def nowhere(path: str) -> bool:
        return False

    is_project: Known = nowhere
    if project is not None:
        is_project = project.finder(language.facts.suffixes, language.facts.finds_whole)
    return Order(
        values,
        language.import_forms,
        language.is_standard,
        is_project,
        language.facts.comment_signs,
        "" if project is None else project.file.stem,
    )
